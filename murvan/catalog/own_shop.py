"""The habits of the user's own shop, kept on the machine for all jobs."""

from __future__ import annotations

import json
from pathlib import Path

from murvan.catalog.aside import set_aside
from murvan.machine import home
from murvan.model.atomic import write_atomic
from murvan.model.shop import Shop


def shop_file() -> Path:
    """Where they are kept."""
    return home() / "shop.json"


def own_shop() -> Shop:
    """As kept, or Murvan's where nothing is kept or it can't be read; the file stays as it is."""
    try:
        return _kept()
    except (OSError, ValueError, RecursionError):
        return Shop()


def _kept() -> Shop:
    return Shop.model_validate(json.loads(shop_file().read_text("utf-8")))


def own_shop_said() -> tuple[Shop, str]:
    """As kept; or Murvan's, with a word where what was kept can't be read: that is set aside."""
    try:
        return _kept(), ""
    except OSError:
        return Shop(), ""
    except (ValueError, RecursionError) as trouble:
        return Shop(), f"{set_aside(shop_file(), trouble)}. Murvan's own habits stand until yours are typed again."


def keep_shop(shop: Shop) -> None:
    """Keep them. Raises OSError where the file can't be written."""
    text = json.dumps(shop.model_dump(mode="json"), indent=1) + "\n"
    shop_file().parent.mkdir(parents=True, exist_ok=True)
    write_atomic(shop_file(), lambda p: p.write_text(text, "utf-8"))
