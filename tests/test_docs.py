"""What the documents name is there."""

import re
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent


class TestNamed(unittest.TestCase):
    def test_every_module_that_a_document_names_exists(self):
        for page in ("methods.md", "architecture.md"):
            text = (ROOT / "docs" / page).read_text("utf-8")
            for name in re.findall(r"`([\w/]+\.py)`", text):
                with self.subTest(page=page, name=name):
                    self.assertTrue((ROOT / "murvan" / name).exists() or (ROOT / name).exists())


if __name__ == "__main__":
    unittest.main()
