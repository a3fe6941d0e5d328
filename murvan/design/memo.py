"""Stages that run again only when something they read has changed.

What a stage reads of the job is said once, in its `Reads`: that is its key, and all that its function can get at. A
stage that reaches for anything else ends with an error, in the first test that runs it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Generic, TypeVar, cast

from murvan.design.sameness import Values, same

T = TypeVar("T")
Cache = dict[str, tuple[tuple[Any, ...], Any]]


class StagePart:
    """A record of which only some fields can be read."""

    def __init__(self, stage: str, values: dict[str, Any]) -> None:
        self.__dict__.update(values)
        self.__dict__["_stage"] = stage

    def __eq__(self, other: object) -> bool:
        return isinstance(other, StagePart) and self._values() == other._values()

    __hash__ = object.__hash__

    def _values(self) -> dict[str, Any]:
        return {k: v for k, v in self.__dict__.items() if not k.startswith("_")}

    def __getattr__(self, name: str) -> Any:
        raise AttributeError(f"the stage {self._stage} does not say that it reads {name}")


Parts = dict[tuple[int, tuple[str, ...]], StagePart]
"""By the record and the fields that are read of it."""


class Reads:
    """What a stage reads of a job or of one unit's design: fields as a whole, and of others only some fields of their records.

    `Reads("geometry", "storeys", rooms=("id", "outline_m"))` reads all storeys, and of the rooms two fields.
    """

    def __init__(self, stage: str, *whole: str, **some: tuple[str, ...]) -> None:
        self.stage, self.whole, self.some = stage, whole, some

    def key(self, job: Any) -> tuple[Any, ...]:
        """What decides whether the stage has to run again."""
        whole = [getattr(job, f) for f in self.whole]
        return (*whole, *(Values(getattr(job, f), names) for f, names in self.some.items()))

    def part(self, job: Any, made: Parts | None = None) -> Any:
        """The job as the stage sees it; `made` are the parts of records that stages of this solve share."""
        made = {} if made is None else made
        values = {f: getattr(job, f) for f in self.whole}
        for f, names in self.some.items():
            value = getattr(job, f)
            records = value if isinstance(value, tuple) else (value,)
            parts = tuple(self._seen(x, names, made) for x in records)
            values[f] = parts if isinstance(value, tuple) else parts[0]
        return StagePart(self.stage, values)

    def _seen(
        self, record: Any, names: tuple[str, ...], made: dict[tuple[int, tuple[str, ...]], StagePart]
    ) -> StagePart:
        found = made.get((id(record), names))
        if found is None:
            found = made[id(record), names] = StagePart(self.stage, {n: getattr(record, n) for n in names})
            found.__dict__["_of"] = record  # while the part lives its record does, and no other gets its id
        return found


class Late(Generic[T]):
    """What is worked out when it is first asked for: sizing and laying solve a house many times and look at little of it."""

    def __init__(self, make: Callable[[], T]) -> None:
        self._make: Callable[[], T] | None = make
        self._found: list[T] = []

    @property
    def value(self) -> T:
        if not self._found:
            assert self._make is not None
            self._found.append(self._make())
            self._make = None
        return self._found[0]

    @property
    def known(self) -> T | None:
        """What was asked for already."""
        return self._found[0] if self._found else None


class Memo:
    """Calls a stage, or takes its last result when everything it reads is the same object or an equal value."""

    def __init__(self, old: Cache) -> None:
        self.old = old
        self.new: Cache = {}
        self._once: dict[str, Any] = {}
        self._parts: Parts = {}

    def once(self, name: str, make: Callable[[], T]) -> T:
        """What `make` gives the first time it is asked for in a solve."""
        if name not in self._once:
            self._once[name] = make()
        return cast(T, self._once[name])

    def keep(self, name: str, key: tuple[Any, ...], make: Callable[[], T]) -> T:
        """What `make` gives, or its last result under that name where all of the key is the same."""
        before = self.new.get(name) or self.old.get(name)  # it may be asked twice in one solve
        if before is not None and len(before[0]) == len(key) and all(map(same, before[0], key)):
            self.new[name] = (key, before[1])
            return cast(T, before[1])
        result = make()
        self.new[name] = (key, result)
        return result

    def __call__(
        self,
        reads: Reads,
        source: Any,
        function: Callable[..., T],
        *inputs: Any,
        extra: tuple[Any, ...] = (),
        also: tuple[tuple[Reads, Any], ...] | None = None,
        of: object = "",
    ) -> T:
        """`function` gets the part of `source` (a job, or one unit's design), with `also` a tuple of further parts,
        `inputs`, and `extra`, which does not decide. `of` tells results of one stage for several sources apart."""
        key, run = self._asked(reads, source, function, inputs, extra, also)
        return self.keep(f"{reads.stage} {of}", key, run)

    def late(
        self,
        reads: Reads,
        source: Any,
        function: Callable[..., T],
        *inputs: Any,
        extra: tuple[Any, ...] = (),
        also: tuple[tuple[Reads, Any], ...] | None = None,
        of: object = "",
    ) -> Late[T]:
        """The same, run when its result is first asked for."""
        key, run = self._asked(reads, source, function, inputs, extra, also)
        return self.keep(f"{reads.stage} {of}", key, lambda: Late(run))

    def _asked(
        self,
        reads: Reads,
        source: Any,
        function: Callable[..., T],
        inputs: tuple[Any, ...],
        extra: tuple[Any, ...],
        also: tuple[tuple[Reads, Any], ...] | None,
    ) -> tuple[tuple[Any, ...], Callable[[], T]]:
        key = (*reads.key(source), *(x for r, s in also or () for x in r.key(s)), *inputs)
        made = self._parts

        def run() -> T:
            more = (tuple(r.part(s, made) for r, s in also),) if also is not None else ()
            return function(reads.part(source, made), *more, *inputs, *extra)

        return key, run
