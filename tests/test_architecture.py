"""The architecture holds: which part may import which, and what an agent's side may use."""

from __future__ import annotations

import ast
import sys
import unittest
from collections.abc import Iterator
from pathlib import Path

FEROX = Path(__file__).resolve().parents[1] / "ferox"
MAY_IMPORT: dict[str, set[str]] = {
    "intake": set(),
    "processes": set(),
    "formats": set(),
    "core": {"formats"},
    "stand_in": {"formats", "core"},
    "recordings": {"formats", "core"},
    "making": {"formats", "core", "recordings", "workspace"},
    "servers": {"formats", "core", "processes", "recordings", "workspace"},
    "workspace": {"formats", "core", "recordings", "stand_in"},
    "gateway": {"formats", "core", "recordings", "stand_in", "servers", "workspace"},
    "agents": {"formats", "core", "processes", "servers", "workspace"},
    "store": {"formats", "core"},
    "runs": {
        "formats", "core", "processes", "recordings", "stand_in", "servers", "workspace",
        "gateway", "agents", "store",
    },
    "bringing": {"formats", "core", "runs", "store", "workspace"},
    "exports": {"formats", "core", "runs", "store"},
    "reports": {"formats", "core", "runs", "store"},
    "web": {
        "formats", "core", "recordings", "making", "servers", "workspace", "gateway", "runs",
        "store", "bringing", "exports", "reports",
    },
    "cli": {
        "formats", "core", "recordings", "making", "servers", "workspace", "gateway", "agents",
        "bringing", "exports", "reports", "runs", "store", "web",
    },
}  # fmt: skip
MAY_NAME_SQLALCHEMY = {FEROX / "cli/output.py", FEROX / "web/openapi.py"}
"""One explains its errors without importing it first, one makes a database in memory."""
FILES = FEROX / "intake/files.py"
"""The one file of the door that reads and writes."""
IMPURE = {
    *("flask", "flask_openapi3", "sqlalchemy", "mcp", "mcp_types", "starlette", "uvicorn"),
    *("httpx2", "asyncio", "socket", "subprocess", "pathlib", "os", "ruamel", "waitress"),
}


def imports(file: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module


class Architecture(unittest.TestCase):
    def test_imports_go_one_way(self) -> None:
        folders = {p.name for p in FEROX.iterdir() if (p / "__init__.py").exists()}
        self.assertEqual(folders, set(MAY_IMPORT))
        for folder, allowed in MAY_IMPORT.items():
            anywhere = {folder, "intake"} if folder != "intake" else {folder}
            for file in (FEROX / folder).rglob("*.py"):
                for module in () if file.parent.name == "connections" else imports(file):
                    parts = module.split(".")
                    if parts[0] == "ferox" and len(parts) > 1:
                        self.assertIn(parts[1], allowed | anywhere, f"{file}: {module}")

    def test_the_core_and_the_formats_have_no_input_or_output(self) -> None:
        for folder in ("core", "formats", "intake"):
            for file in (FEROX / folder).rglob("*.py"):
                if file == FILES:
                    continue
                used = {module.split(".")[0] for module in imports(file)} & IMPURE
                self.assertEqual(used, set(), file)
                self.assertNotIn("ferox.intake.files", set(imports(file)), file)

    def test_the_file_beside_the_agent_uses_the_standard_library_only(self) -> None:
        for module in imports(FEROX / "agents/link_host.py"):
            self.assertIn(module.split(".")[0], sys.stdlib_module_names)

    def test_only_the_store_speaks_to_the_database(self) -> None:
        """Elsewhere a session is only handed on: no SQL, and nothing is read or added by it."""
        for file in FEROX.rglob("*.py"):
            if file.is_relative_to(FEROX / "store") or "static" in file.parts:
                continue
            modules = list(imports(file))
            if file not in MAY_NAME_SQLALCHEMY:
                self.assertNotIn("sqlalchemy", {m.split(".")[0] for m in modules}, file)
            if not any(m.startswith("ferox.store") for m in modules):
                continue
            for node in ast.walk(ast.parse(file.read_text())):
                if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name):
                    self.assertNotEqual(node.value.id, "session", f"{file}:{node.lineno}")

    def test_commands_print_in_one_way(self) -> None:
        """What agents and tools say reaches a terminal only by `say`, which shows what steers."""
        for file in (FEROX / "cli").glob("*.py"):
            if file.name == "output.py":
                continue
            for node in ast.walk(ast.parse(file.read_text())):
                if isinstance(node, ast.Call):
                    called = ast.unparse(node.func)
                    self.assertNotIn(called, {"print", "click.echo", "sys.stdout.write"}, file)

    def test_what_comes_from_outside_is_held_by_our_own_schemas(self) -> None:
        for file in FEROX.rglob("*.py"):
            if file.name != "json_schema.py" and "static" not in file.parts:
                self.assertNotIn("jsonschema", set(imports(file)), file)
