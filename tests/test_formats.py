"""The published schemas and pages are those of the present models, and the docs hold."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path

from jsonschema import Draft202012Validator

from ferox.formats.reference import format_schemas, reference_pages
from ferox.workspace.yaml_files import read_yaml

ROOT = Path(__file__).resolve().parents[1]
FOLDERS = {"agents": "agent", "servers": "server", "tasks": "suite", "stand_ins": "stand-in"}


class Published(unittest.TestCase):
    def test_schemas_and_pages_are_current(self) -> None:
        for name, schema in format_schemas().items():
            kept = json.loads((ROOT / f"ferox/formats/schemas/{name}.json").read_text())
            self.assertEqual(kept, schema, "run script/formats")
            Draft202012Validator.check_schema(schema)
        for file, text in reference_pages().items():
            kept_page = (ROOT / "docs/reference" / file).read_text()
            self.assertEqual(kept_page, text, "run script/formats")

    def test_the_demos_files_fit_their_schemas(self) -> None:
        made = format_schemas()
        for folder, name in FOLDERS.items():
            for path in (ROOT / "demo" / folder).glob("*.yaml"):
                value = read_yaml(path, path.name).value
                self.assertEqual(
                    list(Draft202012Validator(made[name]).iter_errors(value)), [], path
                )

    def test_links_in_the_docs_lead_somewhere(self) -> None:
        for page in [*ROOT.glob("*.md"), *ROOT.glob("docs/*.md")]:
            for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
                self.assertTrue((page.parent / target).exists(), f"{page.name}: {target}")

    def test_scripts_in_the_docs_exist(self) -> None:
        for page in [*ROOT.glob("*.md"), *ROOT.glob("docs/*.md")]:
            for script in re.findall(r"`script/(\w+)", page.read_text()):
                self.assertTrue((ROOT / "script" / script).exists(), f"{page.name}: {script}")
