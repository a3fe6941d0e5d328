"""Writes `docs/job.schema.json` and `docs/units.schema.json` anew from the model: `python -m murvan.documents.schemas`."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from murvan.model.equipment import MultiUnit, Unit
from murvan.model.job import FORMAT_VERSION, Job


def job_schema() -> dict[str, Any]:
    """JSON Schema of a job file."""
    schema = Job.model_json_schema()
    return {
        **schema,
        "title": f"Murvan job, format {FORMAT_VERSION}",
        "$schema": "https://json-schema.org/draft/2020-12/schema",
    }


class _File(BaseModel):
    units: list[Unit] = []
    multi_units: list[MultiUnit] = []


def units_schema() -> dict[str, Any]:
    """JSON Schema of a file of units."""
    schema = _File.model_json_schema()
    return {**schema, "title": "Murvan units", "$schema": "https://json-schema.org/draft/2020-12/schema"}


def main(folder: str = "docs") -> None:
    for name, schema in (("job", job_schema()), ("units", units_schema())):
        text = json.dumps(schema, indent=1, ensure_ascii=False) + "\n"
        (Path(folder) / f"{name}.schema.json").write_text(text, "utf-8")


if __name__ == "__main__":
    main(*sys.argv[1:2])
