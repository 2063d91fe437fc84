"""The interface of suites: listed, read as pictures, tried on stored trials, scored again."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from ferox.core.json_paths import PathError
from ferox.core.matcher import MatcherError
from ferox.core.script import compile_script
from ferox.formats.suite import Suite, Task
from ferox.making.stand_in_of_suite import stand_in_of_suite
from ferox.runs.rescoring import rescore_next, stale_count, try_script
from ferox.runs.suite_tools import seen_tools, tools_of_suite
from ferox.store.database import read_session
from ferox.web.files.parsed import parse_file
from ferox.web.responses import NotThere, RequestRefused
from ferox.web.routing import Routes
from ferox.web.site import site
from ferox.web.tasks import shapes
from ferox.web.tasks.known_tools import tool_shape
from ferox.web.tasks.task_pictures import task_picture
from ferox.workspace.check_server import known_tools
from ferox.workspace.load import listed_files, load_loosely, load_needed, load_servers
from ferox.workspace.stand_ins import keep_stand_in
from ferox.workspace.write import workspace_file
from ferox.workspace.yaml_files import YamlFile

MOST_REJUDGED = 200
"""Stored trials that are judged again while somebody types: the newest."""

routes = Routes("tasks")


def _read_suite(name: str, text: str) -> tuple[YamlFile, Suite | None]:
    """A text as a suite."""
    file, suite = parse_file(name, text)
    return file, suite if isinstance(suite, Suite) else None


def _task_places(file: YamlFile, suite: Suite, text: str) -> Iterator[shapes.TaskPlace]:
    starts = [file.problem_at(("tasks", i), "").line for i in range(len(suite.tasks))]
    ends = [*(s - 1 for s in starts[1:]), text.count("\n") + 1]
    for task, line, last in zip(suite.tasks, starts, ends, strict=True):
        yield shapes.TaskPlace(
            task=task.task, title=task.title, tags=task.tags, line=line, last=last
        )


def _read_text_of(body: shapes.SuiteText) -> shapes.SuiteReading:
    file, suite = _read_suite(body.name, body.text)
    if suite is None:
        first = min(file.problems, default=None)
        fault = f"{first.line}: {first.message}" if first else f"{body.name} is not in tasks/"
        return shapes.SuiteReading(tasks=[], picture=None, fault=fault)
    tasks = list(_task_places(file, suite, body.text))
    here = next((i for i in reversed(range(len(tasks))) if tasks[i].line <= body.line), 0)
    drawn = task_picture(file, here, suite.tasks[here]) if tasks else None
    return shapes.SuiteReading(tasks=tasks, picture=drawn, fault=None)


@routes.get("/api/suites")
def suite_files() -> shapes.SuiteFileList:
    """The suites' files."""
    workspace, problems = load_loosely(site.root)
    files = []
    for listed in listed_files(workspace, problems, "tasks"):
        suite = workspace.suites.get(listed.describes or "")
        files.append(
            shapes.SuiteFileShape(
                file=listed.file,
                suite=suite.suite if suite else None,
                title=suite.title if suite else None,
                tasks=[t.task for t in suite.tasks] if suite else [],
                problems=listed.problems,
            )
        )
    return shapes.SuiteFileList(files=files, servers=list(workspace.servers))


@routes.post("/api/suite/read")
def read_suite(body: shapes.SuiteText) -> shapes.SuiteReading:
    """The tasks of a text, and the picture of the one that the cursor is in."""
    workspace_file(site.root, body.name)
    return _read_text_of(body)


@routes.get("/api/suite/tools")
def known_tools_of_servers() -> shapes.KnownTools:
    """The tools that a script may name."""
    found, unknown = [], []
    servers = load_servers(site.root)
    seen = seen_tools(site.engine, servers)
    for name, server in servers.items():
        tools = known_tools(server, site.root) or seen.get(name)
        if tools is None:
            unknown.append(name)
        found += [tool_shape(name, tool) for tool in (tools or {}).values()]
    return shapes.KnownTools(tools=found, unknown=unknown)


@routes.post("/api/suites/<suite>/stand-in", status=201)
def make_stand_in(path: shapes.SuitePath) -> shapes.MadeStandInShape:
    """Write a simulated model that carries out what a suite expects."""
    workspace, _ = load_loosely(site.root)
    suite = workspace.suites.get(path.suite)
    if suite is None:
        raise NotThere(f"there is no suite `{path.suite}`, or its file does not load")
    made = stand_in_of_suite(suite, tools_of_suite(workspace, suite, site.engine))
    kept = keep_stand_in(workspace, suite.suite, made.document)
    return shapes.MadeStandInShape(file=kept.file, model=kept.model, notes=made.notes)


@routes.post("/api/suite/rejudge")
def rejudge_trials(body: shapes.RejudgeRequest) -> shapes.RejudgedTrials:
    """Stored trials of a task as the text in the editor would judge them."""
    workspace_file(site.root, body.name)
    _, suite = _read_suite(body.name, body.text)
    task = next((t for t in suite.tasks if t.task == body.task), None) if suite else None
    if suite is None or task is None:
        raise RequestRefused(422, "the text does not load, so nothing can be tried")
    try:
        compile_script(suite, task)  # where nothing is stored, too
        with read_session(site.engine) as session:
            found = list(try_script(session, suite, task, MOST_REJUDGED + 1))
    except (MatcherError, PathError, KeyError) as error:
        raise RequestRefused(422, str(error)) from None
    trials = [shapes.RejudgedTrialShape.model_validate(t) for t in found[:MOST_REJUDGED]]
    return shapes.RejudgedTrials(trials=trials, more=len(found) > MOST_REJUDGED)


@routes.get("/api/suite/stale")
def count_stale(query: shapes.RescoreRequest) -> shapes.RescoreShape:
    """How many stored trials were last scored under another script than is on disk."""
    suite, tasks = _chosen_tasks(site.root, query)
    with read_session(site.engine) as session:
        left = stale_count(session, suite, tasks)
    return shapes.RescoreShape(done=0, changed=0, left=left)


@routes.post("/api/suite/rescore")
def rescore_batch(body: shapes.RescoreRequest) -> shapes.RescoreShape:
    """Score one batch of stored trials under the script on disk; ask again for the next."""
    suite, tasks = _chosen_tasks(site.root, body)
    batch = rescore_next(site.engine, suite, tasks, pool=site.judges)
    return shapes.RescoreShape.model_validate(batch)


def _chosen_tasks(root: Path, body: shapes.RescoreRequest) -> tuple[Suite, list[Task]]:
    workspace = load_needed(root, agents=(), suites=[body.suite]).workspace
    if body.suite not in workspace.suites:
        raise NotThere(f"there is no suite `{body.suite}`")
    suite = workspace.suites[body.suite]
    return suite, [t for t in suite.tasks if not body.tasks or t.task in body.tasks]
