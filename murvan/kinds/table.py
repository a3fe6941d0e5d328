"""A table of records by id, which refuses ids that it has not."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, Generic, Protocol, TypeVar

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, core_schema


class Kind(Protocol):
    """A record of a table."""

    @property
    def id(self) -> str:
        """What files call it."""


K = TypeVar("K", bound=Kind)


class UnknownKindError(KeyError):
    """There is no such kind."""

    def __str__(self) -> str:
        return str(self.args[0])


class Table(Mapping[str, K], Generic[K]):
    """The kinds of one sort. As an annotation of a model's field it allows their ids alone.

    Args:
        what: what its records are, in the singular, as a message calls them.
    """

    def __init__(self, what: str, *kinds: K) -> None:
        self.what = what
        self._by_id = {k.id: k for k in kinds}
        if len(self._by_id) < len(kinds):
            raise ValueError(f"two of the kinds of {what} have one id")

    def __getitem__(self, key: str) -> K:
        try:
            return self._by_id[key]
        except KeyError:
            raise UnknownKindError(f"there is no {self.what} “{key}”; known are {', '.join(self)}") from None

    def __iter__(self) -> Iterator[str]:
        return iter(self._by_id)

    def __hash__(self) -> int:
        return id(self)

    def __eq__(self, other: object) -> bool:
        return self is other

    def __len__(self) -> int:
        return len(self._by_id)

    def __contains__(self, key: object) -> bool:
        return key in self._by_id

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.literal_schema(list(self))

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> dict[str, Any]:
        return {"type": "string", "enum": list(self)}
