"""Registers and grilles: free area, loss, throw and noise of each, as an open form; `data/registers.json` ships."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, ValidationError

from murvan.catalog.loader import CatalogError, read_shipped
from murvan.kinds.registers import REGISTERS
from murvan.model.record import Id, Name, Record
from murvan.model.words import first_problem


class CatalogFace(Record):
    """One register or grille of one size."""

    id: Id
    name: Name
    side: Literal["supply", "return"]
    kind: Annotated[str, REGISTERS]
    width_m: float = Field(gt=0.02, le=3)
    height_m: float = Field(gt=0.02, le=3)
    free_area: float = Field(gt=0.05, le=1)
    """Free part of the gross face, 0..1."""
    loss: float = Field(gt=0, le=20)
    """Loss coefficient on the speed in its free area."""
    throw_k: float | None = Field(None, gt=0, le=20)
    """K of the jet equation; a return has none."""
    noise_nc: float = Field(ge=0, le=80)
    """NC at 500 fpm in the free area of a 10 by 4 in face."""

    @property
    def fields(self) -> dict[str, object]:
        """What a register of the design takes over."""
        kept = ("kind", "width_m", "height_m", "free_area", "loss", "throw_k", "noise_nc")
        return {"item": self.id, **{k: getattr(self, k) for k in kept}}


@lru_cache(maxsize=1)
def faces() -> dict[str, CatalogFace]:
    """The shipped registers and grilles by id. Raises CatalogError."""
    out: dict[str, CatalogFace] = {}
    for raw in read_shipped("registers.json")["registers"]:
        try:
            face = CatalogFace.model_validate(raw)
        except ValidationError as exc:
            raise CatalogError(first_problem(exc, raw, str(raw.get("name", "A register")))) from None
        if face.id in out:
            raise CatalogError(f"{face.name}: the id '{face.id}' stands twice in the file.")
        out[face.id] = face
    return out


@lru_cache(maxsize=256)
def usual_noise_nc(kind: str, width_m: float, height_m: float) -> float:
    """NC as of `Face.noise_nc` where nobody typed one: the shipped face of that kind and size, else the usual of its kind."""
    same = face_of(kind, width_m, height_m)
    return REGISTERS[kind].noise_nc if same is None else same.noise_nc


def face_of(kind: str, width_m: float, height_m: float) -> CatalogFace | None:
    """The first face of a kind and size; None where none is of that size."""
    alike = (
        x
        for x in faces().values()
        if x.kind == kind and abs(x.width_m - width_m) < 1e-4 and abs(x.height_m - height_m) < 1e-4
    )
    return next(alike, None)
