"""Which files of an agent's own code a Python file brings with it."""

from __future__ import annotations

import unittest

from ferox.core.agent_code import local_modules


class LocalModules(unittest.TestCase):
    def test_every_form_of_import(self) -> None:
        source = "import a.b, c\nfrom d.e import f\nfrom . import g\ndef x():\n    import late\n"
        self.assertEqual(sorted(local_modules(source)), ["a/b", "c", "d/e", "d/e/f", "g", "late"])

    def test_a_source_that_is_not_python_imports_none(self) -> None:
        for source in ("import a\ndef (", "import a\0", "import a\n" + "(" * 1000):
            self.assertEqual(list(local_modules(source)), [], source[:12])


if __name__ == "__main__":
    unittest.main()
