"""What stands on cards and sheets as a source: a publication, 'Murvan default, editable' or 'common practice'."""

import unittest

from murvan.design import RULES
from tests.design.test_every_line import loads_of, rest_of, results


class Sources(unittest.TestCase):
    def test_memory_is_no_source_on_a_card(self):
        for rule in RULES:
            self.assertNotIn("memory", rule.basis + rule.why + rule.remedy)
        for key, r in results():
            for of in (loads_of, rest_of):
                for a in of(r):
                    for text in a.source_texts("ip"):
                        self.assertNotIn("memory", text, f"{key}, {a.title}")

    def test_a_southern_house_is_told_so(self):
        r = dict(results())["south"]
        said = {s for a in loads_of(r) for s in a.source_texts("ip") if "latitude" in s or "21 J" in s}
        self.assertTrue(any("34° S" in s for s in said))
        self.assertFalse(any("-34" in s or "−34" in s or "34° N" in s for s in said))
        self.assertFalse(any("21 July, 34" in s for s in said))


if __name__ == "__main__":
    unittest.main()
