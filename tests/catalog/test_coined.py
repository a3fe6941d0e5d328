"""Names of makers in the shipped catalogue are coined: none has that of a real maker in it; old ids still open."""

import hashlib
import json
import unittest

from murvan.catalog import multi_units, units
from murvan.catalog.registers import faces
from murvan.model import replace
from murvan.model.files import job_from_raw, job_text
from murvan.model.migrations import RENAMED
from tests.houses import demo

REAL = frozenset(
    [
        "05f2a6ac1d23",
        "0600c79833cc",
        "076a9376ea36",
        "07c05679b1cf",
        "08cba03d4f7d",
        "29a4e56b8cb6",
        "3031478d1a80",
        "36d2f683078a",
        "3799eb3d47c9",
        "3a8cc36648e9",
        "3eb906846fa9",
        "432e8704c5d0",
        "4601f4ddecb9",
        "46c759e87193",
        "4742b2b6563b",
        "4d13e1dbe7ab",
        "4e4cd5474ea2",
        "4f3a51a2fad4",
        "52cf3e8f6680",
        "55a9cdd99386",
        "55c672a7210f",
        "5803587e6791",
        "59c1de0763e8",
        "5ad51a66acc3",
        "5d048d0474ef",
        "62d9bc14d3da",
        "672a67fe49d2",
        "678c44fa9153",
        "729229ba4fe7",
        "7625d82f1909",
        "7ca0172850c5",
        "7d33cde721a7",
        "7e4029e6a98f",
        "7ff26ca7636f",
        "80ac1b93b4ee",
        "8a2496b950a9",
        "939db0d1898f",
        "9466bdc75497",
        "968e2d5b0868",
        "a19d126e91d0",
        "a263875149ac",
        "a8cceb0ae6b0",
        "ada53d84a823",
        "afa63328e5eb",
        "aff10ea04c62",
        "b22521f30793",
        "b25d00fbde36",
        "b62d74401ccd",
        "b75a74cd0bb8",
        "b8c7447ac1e0",
        "ba0d7dc67179",
        "bc236a8abd26",
        "c023b7b07742",
        "c409a34cdbf3",
        "ca6e0dc328e4",
        "cd2ce215af95",
        "ce980bc1da43",
        "d0f3483d4a34",
        "d4d79d0884a8",
        "d4f2bdd46c36",
        "d7b1dd8503fd",
        "da4b1c6bc188",
        "dd4850a1b4c4",
        "f157bff67be7",
        "f64dc92b8869",
        "f7dee9a10bdb",
    ]
)
"""First of the SHA-256 of names of real makers of equipment, registers and instruments, in small letters, from memory."""


def hidden(name):
    """The parts of a name that are a real maker's."""
    low = "".join(c for c in name.lower() if c.isalpha())
    parts = (low[i:j] for i in range(len(low)) for j in range(i + 4, len(low) + 1))
    return [p for p in parts if hashlib.sha256(p.encode()).hexdigest()[:12] in REAL]


class Coined(unittest.TestCase):
    def test_no_maker_has_a_real_one_s_name_in_it(self):
        words = {w for x in (*units().values(), *multi_units().values()) for w in (x.maker, *x.name.split())}
        words |= {w for x in faces().values() for w in x.name.split()}
        self.assertGreater(len(words), 20)
        for w in sorted(words):
            self.assertEqual(hidden(w), [], w)

    def test_the_list_finds_one_inside_another_word(self):
        self.assertTrue(hidden("Is" + "tra" + "ne"))

    def test_jobs_with_old_ids_open(self):
        for old, new in RENAMED.items():
            self.assertIn(new, units())
            job = demo()
            text = job_text(replace(job, "indoor_units", "unit1", unit=new)).replace(f'"{new}"', f'"{old}"')
            self.assertIn(old, text)
            self.assertEqual(job_from_raw(json.loads(text)).design.indoor_units[0].unit, new)


if __name__ == "__main__":
    unittest.main()
