"""Files: read, checked, formatted and written."""

from __future__ import annotations

from pathlib import Path

from ferox.formats.agent import AgentFile
from ferox.formats.plan import PlanFile
from ferox.formats.reference import format_schemas
from ferox.formats.server import ServerFile
from ferox.formats.suite import Suite
from ferox.formats.workspace import WorkspaceFile
from ferox.runs.suite_tools import seen_tools
from ferox.store.database import Engine
from ferox.web.bounded_process import run_apart
from ferox.web.files import shapes
from ferox.web.files.parsed import parse_file
from ferox.web.files.shapes import FileShape
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.shapes import ProblemShape
from ferox.web.site import site
from ferox.workspace.check import check_models, named_agents
from ferox.workspace.check_agent import check_agent
from ferox.workspace.check_plan import check_plan
from ferox.workspace.check_server import check_server
from ferox.workspace.check_suite import SuiteContext, check_suite
from ferox.workspace.file_moves import remove_file, rename_file, restore_file
from ferox.workspace.load import load_loosely, load_servers
from ferox.workspace.problems import Problem, first_of
from ferox.workspace.vault import current_vault
from ferox.workspace.write import read_text, stamp_on_disk, workspace_file, write_text

routes = Routes("files")


def problems_in(root: Path, name: str, text: str, engine: Engine) -> list[ProblemShape]:
    """What is wrong with a text, if it stood in that file.

    Raises:
        WriteError: it is not a file of a workspace.
    """
    workspace_file(root, name)
    if not name.endswith(".yaml"):
        return []
    file, document = parse_file(name, text)
    found = list(file.problems)
    if isinstance(document, ServerFile):
        found += first_of(check_server(file, document, root))
    elif isinstance(document, AgentFile):
        workspace, problems = load_loosely(root)
        found += check_agent(
            workspace, file, document, complete=all(p.file == name for p in problems)
        )
    elif isinstance(document, PlanFile):
        # What it names may stand in another file that does not load.
        workspace, problems = load_loosely(root)
        if all(p.file == name for p in problems):
            found += first_of(check_plan(workspace, file, document))
    elif isinstance(document, WorkspaceFile):
        workspace, _ = load_loosely(root)
        workspace.settings = document
        found += first_of(check_models(workspace, file))
    elif isinstance(document, Suite):
        servers = load_servers(root)
        agents = named_agents(load_loosely(root)[0])
        around = SuiteContext(servers, root, seen_tools(engine, servers), agents=agents)
        found += first_of(check_suite(file, document, around))
    return [ProblemShape(**vars(p)) for p in sorted(set(found))]


def write_checked(name: str, text: str, stamp: str | None) -> FileShape:
    """Write a file that loads, unless it changed on disk since `stamp`.

    Raises:
        RequestRefused: it does not load.
        WriteError: it cannot be written, or changed on disk meanwhile.
    """
    problems = [p for p in problems_in(site.root, name, text, site.engine) if not p.note]
    if problems:
        first, more = problems[0], len(problems) - 1
        place = f"{first.file}:{first.line}:{first.column}"
        and_more = f" (and {more} more)" if more else ""
        raise RequestRefused(422, f"not saved: {place}: {first.message}{and_more}")
    return FileShape(name=name, text=text, stamp=write_text(site.root, name, text, stamp))


@routes.get("/api/formats/<format>")
def format_schema(path: shapes.FormatPath) -> shapes.FormatShape:
    """The JSON Schema of one of the workspace's formats."""
    known = format_schemas()
    if path.format not in known:
        raise NotThere(f"no format `{path.format}`; there is {', '.join(sorted(known))}")
    return shapes.FormatShape(format=path.format, definition=known[path.format])


@routes.get("/api/file")
def read_file(query: shapes.FileQuery) -> shapes.FileShape:
    """A file's text."""
    text, stamp = read_text(site.root, query.name)
    return shapes.FileShape(name=query.name, text=text, stamp=stamp)


@routes.put("/api/file")
def save_file(body: shapes.FileRequest) -> shapes.FileShape:
    """Write a file that loads, unless it changed on disk meanwhile.

    Credentials that were pasted and that it names go into the workspace's `.env`.
    """
    written = write_checked(body.name, body.text, body.stamp)
    if body.name.startswith("servers/"):
        pasted = site.pasted_secrets
        current_vault().keep_secrets(
            {n: pasted.pop(n) for n in list(pasted) if f"secret: {n}" in body.text}
        )
    return written


@routes.get("/api/file/stamp")
def file_stamp(query: shapes.FileQuery) -> shapes.StampShape:
    """What tells the state of a file on disk; asked again and again while it is edited.

    A file that is being renamed or removed is no fault of who asks.
    """
    return shapes.StampShape(stamp=stamp_on_disk(site.root, query.name))


@routes.post("/api/file/rename")
def rename_workspace_file(body: shapes.RenameRequest) -> shapes.MovedFile:
    """Give a file, and what it describes, another name; other files are left as they are."""
    before = _problems_now()
    name, _, stamp = rename_file(site.root, body.name, body.to, body.stamp)
    return shapes.MovedFile(name=name, stamp=stamp, problems=_problems_since(before))


@routes.post("/api/file/remove")
def remove_workspace_file(body: shapes.SeenFile) -> shapes.MovedFile:
    """Take a file out of the workspace; it can be restored."""
    before = _problems_now()
    remove_file(site.root, body.name, body.stamp)
    return shapes.MovedFile(name=body.name, stamp=None, problems=_problems_since(before))


@routes.post("/api/file/restore")
def restore_workspace_file(body: shapes.FileQuery) -> shapes.FileShape:
    """Put back the file of this name that was removed last."""
    restore_file(site.root, body.name)
    text, stamp = read_text(site.root, body.name)
    return shapes.FileShape(name=body.name, text=text, stamp=stamp)


def _problems_now() -> set[Problem]:
    return {p for p in load_loosely(site.root)[1] if not p.note}


def _problems_since(before: set[Problem]) -> list[ProblemShape]:
    return [ProblemShape(**vars(p)) for p in sorted(_problems_now() - before)]


@routes.post("/api/file/format")
def format_text(body: shapes.CheckRequest) -> shapes.TextShape:
    """A text with its indentation set right; comments and order stay."""
    workspace_file(site.root, body.name)
    return shapes.TextShape(text=run_apart("tidied", body.text))


@routes.post("/api/file/check")
def check_text(body: shapes.CheckRequest) -> shapes.ProblemList:
    """What is wrong with a text."""
    return shapes.ProblemList(problems=problems_in(site.root, body.name, body.text, site.engine))
