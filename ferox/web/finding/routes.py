"""Finding by name: servers, tools, tasks, agents, plans, runs and trials."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from itertools import groupby

from ferox.runs.suite_tools import seen_tools
from ferox.store.database import Session, read_session
from ferox.store.runs import find_run
from ferox.store.trials import find_trial
from ferox.web.finding import shapes
from ferox.web.finding.shapes import FoundThing
from ferox.web.routing import Routes
from ferox.web.site import site
from ferox.workspace import Workspace
from ferox.workspace.check_server import known_tools
from ferox.workspace.load import listed_files, load_loosely
from ferox.workspace.modes import MOCK, RECORDED

MOST = 8
"""Things of one kind that are shown: whoever seeks another types more of its name."""

routes = Routes("finding")


@routes.get("/api/find")
def find_by_name(query: shapes.FindQuery) -> shapes.FoundThings:
    """What has all of the words in its name or title."""
    words = query.words.lower().split()
    if not words:
        return shapes.FoundThings(found=[])
    with read_session(site.engine) as session:
        numbered = list(_numbered_things(session, words))
    named = _nearest_of(_named_things(load_loosely(site.root)[0]), words)
    return shapes.FoundThings(found=[*numbered, *named])


def _named_things(workspace: Workspace) -> Iterator[FoundThing]:
    for name, server in workspace.servers.items():
        yield FoundThing(kind="server", name=name, title=server.title)
    for name, agent in workspace.agents.items():
        yield FoundThing(kind="agent", name=name, title=agent.title)
    files = _files_by_name(workspace, "tasks")
    for suite in workspace.suites.values():
        for task in suite.tasks:
            file = files.get(suite.suite)
            yield FoundThing(kind="task", name=task.task, within=file, title=task.title)
    of_plans = _files_by_name(workspace, "plans")
    for plan in workspace.plans.values():
        within = of_plans.get(plan.plan)
        yield FoundThing(kind="plan", name=plan.plan, within=within, title=plan.title)
    seen = seen_tools(site.engine, workspace.servers)
    for name, server in workspace.servers.items():
        known = [known_tools(server, site.root, mode) or {} for mode in (MOCK, RECORDED)]
        for tool in {**seen.get(name, {}), **known[0], **known[1]}:
            yield FoundThing(kind="tool", name=tool, within=name)


def _files_by_name(workspace: Workspace, folder: str) -> dict[str, str]:
    """The file of each thing that a folder's files describe."""
    listed = listed_files(workspace, (), folder)
    return {one.describes: one.file for one in listed if one.describes is not None}


def _nearest_of(things: Iterable[FoundThing], words: list[str]) -> Iterator[FoundThing]:
    """Those with all of the words, those whose name begins with them first, some of each kind."""
    fitting = [t for t in things if _fits(t, words)]
    for _, group in groupby(fitting, key=lambda thing: thing.kind):
        whole = " ".join(words)
        ordered = sorted(group, key=lambda t: (not t.name.lower().startswith(whole), len(t.name)))
        yield from ordered[:MOST]


def _fits(thing: FoundThing, words: list[str]) -> bool:
    text = f"{thing.within or ''} {thing.name} {thing.title or ''}".lower()
    return all(word in text for word in words)


def _numbered_things(session: Session, words: list[str]) -> Iterator[FoundThing]:
    """A run or a trial by its number: `12`, `trial 12`."""
    match = re.fullmatch(r"(?:(run|trial) )?#?(\d{1,9})", " ".join(words))
    if match is None:
        return
    kind, number = match[1], int(match[2])
    run = find_run(session, number) if kind != "trial" else None
    if run is not None:
        yield FoundThing(kind="run", name=str(number), title=run.title)
    trial = find_trial(session, number) if kind != "run" else None
    if trial is not None:
        title = f"{trial.suite}/{trial.task} by {trial.agent}"
        yield FoundThing(kind="trial", name=str(number), title=title)
