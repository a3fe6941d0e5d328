"""What readings prove of the units: capacity at the air, charge and tightness of their lines, safe combustion."""

from __future__ import annotations

from dataclasses import dataclass

from murvan.design.results import Results
from murvan.field.capacity import Proof, proofs
from murvan.field.charge import Charge, charges
from murvan.field.safety import Record, records
from murvan.model.job import Job


@dataclass(frozen=True)
class Proven:
    """By unit and season."""

    proofs: tuple[Proof, ...] = ()
    charges: tuple[Charge, ...] = ()
    records: tuple[Record, ...] = ()

    def of(self, unit: str) -> Proven:
        """Of one unit."""
        return Proven(
            tuple(x for x in self.proofs if x.unit == unit),
            tuple(x for x in self.charges if x.unit == unit),
            tuple(x for x in self.records if x.unit == unit),
        )

    @property
    def simulated(self) -> bool:
        return any(x.simulated for x in self.proofs) or any(
            (*(x.simulated for x in self.charges), *(x.simulated for x in self.records))
        )


def proven(job: Job, r: Results) -> Proven:
    """By the readings that count."""
    return Proven(proofs(job, r), charges(job, r), records(job, r)) if job.design.readings else Proven()
