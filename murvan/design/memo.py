"""Stages that run again only when something they read has changed.

What a stage reads of the job is said once, in its `Reads`: that is its key, and all that its function can get at. A
stage that reaches for anything else ends with an error, in the first test that runs it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

from murvan.model.job import Job

T = TypeVar("T")
Cache = dict[str, tuple[tuple[Any, ...], Any]]


class Values:
    """Some fields of records, compared by value: a new name moves no wall. The same records need no comparing."""

    __slots__ = ("records", "names")

    def __init__(self, value: Any, names: tuple[str, ...]) -> None:
        self.records = value if isinstance(value, tuple) else (value,)
        self.names = names

    def same_as(self, other: Values) -> bool:
        a, b = self.records, other.records
        return len(a) == len(b) and all(
            x is y or self._picked(x) == self._picked(y) for x, y in zip(a, b, strict=True)
        )

    def _picked(self, record: Any) -> tuple[Any, ...]:
        return tuple(getattr(record, n) for n in self.names)


class Part:
    """A record of which only some fields can be read."""

    def __init__(self, stage: str, values: dict[str, Any]) -> None:
        self.__dict__.update(values)
        self.__dict__["_stage"] = stage

    def __getattr__(self, name: str) -> Any:
        raise AttributeError(f"the stage {self._stage} does not say that it reads {name}")


class Reads:
    """What a stage reads of a job: fields as a whole, and of others only some fields of their records.

    `Reads("geometry", "storeys", rooms=("id", "outline_m"))` reads all storeys, and of the rooms two fields.
    """

    def __init__(self, stage: str, *whole: str, **some: tuple[str, ...]) -> None:
        self.stage, self.whole, self.some = stage, whole, some

    def key(self, job: Job) -> tuple[Any, ...]:
        """What decides whether the stage has to run again."""
        whole = [getattr(job, f) for f in self.whole]
        return (*whole, *(Values(getattr(job, f), names) for f, names in self.some.items()))

    def part(self, job: Job) -> Job:
        """The job as the stage sees it."""
        values = {f: getattr(job, f) for f in self.whole}
        for f, names in self.some.items():
            value = getattr(job, f)
            records = value if isinstance(value, tuple) else (value,)
            parts = tuple(Part(self.stage, {n: getattr(x, n) for n in names}) for x in records)
            values[f] = parts if isinstance(value, tuple) else parts[0]
        return cast(Job, Part(self.stage, values))


class Memo:
    """Calls a stage, or takes its last result when everything it reads is the same object or an equal value."""

    def __init__(self, old: Cache) -> None:
        self.old = old
        self.new: Cache = {}

    def __call__(
        self, reads: Reads, job: Job, function: Callable[..., T], *inputs: Any, extra: tuple[Any, ...] = ()
    ) -> T:
        """`function` gets the part of the job, `inputs`, and `extra`, which does not decide."""
        key = (*reads.key(job), *inputs)
        before = self.old.get(reads.stage)
        if before is not None and all(_same(a, b) for a, b in zip(before[0], key, strict=True)):
            self.new[reads.stage] = (key, before[1])
            return cast(T, before[1])
        result = function(reads.part(job), *inputs, *extra)
        self.new[reads.stage] = (key, result)
        return result


def _same(a: Any, b: Any) -> bool:
    if a is b:
        return True
    if isinstance(a, Values) and isinstance(b, Values):
        return a.same_as(b)
    if isinstance(a, tuple) and isinstance(b, tuple):  # validation makes new tuples of the same records
        return len(a) == len(b) and all(x is y for x, y in zip(a, b, strict=True))
    return isinstance(a, (int, float, str)) and type(a) is type(b) and a == b
