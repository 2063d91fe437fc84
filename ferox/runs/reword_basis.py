"""What rewording two confused tools starts from: their words now, and the tasks to try it on."""

from __future__ import annotations

from pydantic import BaseModel

from ferox.core.definitions import description_of
from ferox.core.script import expected_tools
from ferox.runs.comparison import ComparisonError, SideName, tools_of_sides
from ferox.runs.stored_snapshots import snapshot_of
from ferox.store.database import Session
from ferox.store.runs import cells_of_run, find_run
from ferox.workspace import Workspace


class WordedTool(BaseModel):
    """A tool as an agent read it. `address`: `server/tool`, by the server's own name."""

    address: str
    name: str
    description: str


class RewordBasis(BaseModel):
    """Two tools, the agents that took one for the other, and tasks, `suite/task`: those that either
    tool touches, and as many that neither does, so that harm elsewhere would show."""

    agents: list[str]
    expected: WordedTool
    chosen: WordedTool
    touched: list[str]
    untouched: list[str]


def reword_basis(
    session: Session, workspace: Workspace, side: SideName, expected: str, chosen: str
) -> RewordBasis:
    """What a plan that rewords two tools is made of.

    Raises:
        ComparisonError: the side is not there, or was not offered both tools.
    """
    if find_run(session, side.run) is None:
        raise ComparisonError(f"there is no run {side.run}")
    suites = sorted({cell[0] for cell in cells_of_run(session, side.run)})
    tools = tools_of_sides(session, [side], suites)
    for address in (expected, chosen):
        if address not in tools:
            raise ComparisonError(f"`{address}` was not offered in {side}")
    snapshot = snapshot_of(session, side.run)
    arms = [side.agent] if side.agent is not None else list(snapshot.agents)
    tasks = [
        (f"{suite}/{task.task}", bool({expected, chosen} & {*expected_tools(task)}))
        for suite in suites
        if suite in workspace.suites
        for task in workspace.suites[suite].tasks
    ]
    touched = [task for task, touches in tasks if touches]
    untouched = [task for task, touches in tasks if not touches]

    def worded(address: str) -> WordedTool:
        tool = tools[address]
        return WordedTool(address=address, name=tool["name"], description=description_of(tool))

    return RewordBasis(
        agents=list(dict.fromkeys(snapshot.agent_name(arm) for arm in arms if arm)),
        expected=worded(expected),
        chosen=worded(chosen),
        touched=touched,
        untouched=untouched[: len(touched)],
    )
