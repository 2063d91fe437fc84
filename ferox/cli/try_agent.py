"""`ferox try`: talk to an agent by hand in the terminal."""

from __future__ import annotations

import asyncio
import sys
from pathlib import Path
from typing import Any

import click

from ferox.agents.links.link import ApprovalDecision
from ferox.cli.completing import complete_names
from ferox.cli.output import COULD_NOT_RUN, WRONG_USE, fail, say
from ferox.cli.secrets import ask_to_agree
from ferox.cli.value_lines import value_lines
from ferox.cli.workspace_argument import (
    WorkspaceFirst,
    modes_by_hand,
    parse_pairs,
    workspace_argument,
)
from ferox.core.json_values import brief_json
from ferox.core.masking import Masker
from ferox.formats.trace import Event, Trace, end_of
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.holding import Hold, HoldDecision
from ferox.intake.json_text import read_json
from ferox.runs.kept_requests import requests_to
from ferox.runs.linking import open_link
from ferox.runs.overrides import Overrides
from ferox.runs.records import RunError
from ferox.runs.run_lock import RunLock
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_by_hand import (
    SUITE,
    begin_by_hand,
    end_by_hand,
    job_by_hand,
    prepare_by_hand,
)
from ferox.runs.trial_seams import SeamTaps
from ferox.runs.trial_user import UserWords
from ferox.servers.sources.source import Definition, QuestionAnswer, ServerQuestion
from ferox.store.database import Engine, StoreError, open_database
from ferox.store.writer import Writer
from ferox.workspace import WorkspaceError
from ferox.workspace.vault import current_vault


@click.command("try", cls=WorkspaceFirst)
@workspace_argument
@click.argument("agent", shell_complete=complete_names("agents"))
@modes_by_hand
def try_agent(workspace: Path, agent: str, modes: tuple[str, ...]) -> None:
    """Talk to AGENT by hand; an empty line, or the end of the input, ends it.

    Its calls are shown as they happen; its approvals, and questions of its servers, are asked
    for. The conversation is kept as a trial that opens on the screens.
    """
    wanted = parse_pairs("--server", modes, "harbour=live")
    root = workspace.absolute()
    try:
        snapshot, without = prepare_by_hand(workspace, agent, Overrides(modes=wanted))
        ask_to_agree(current_vault().unagreed_uses(snapshot.secret_uses()))
        engine = open_database(root)
    except (WorkspaceError, RunError) as error:
        fail(WRONG_USE, error)
    except StoreError as error:
        fail(COULD_NOT_RUN, error)
    for server, why in without.items():
        say(f"without {server}: {why}")
    servers = ", ".join(f"{n} ({m})" for n, m in snapshot.suites[SUITE].servers.items())
    say(f"{agent}, with {servers or 'no servers'}. An empty line ends it.")
    trial, trace = asyncio.run(_hold_conversation(root, engine, snapshot, agent))
    end = end_of(trace)
    say(f"kept as trial {trial}: /trial/{trial} when Ferox serves this workspace")
    if end.get("why") not in ("done", "stopped"):
        fail(COULD_NOT_RUN, f"{end.get('why')}: {end.get('reason')}")


async def _hold_conversation(
    root: Path, engine: Engine, snapshot: Snapshot, agent: str
) -> tuple[int, Trace]:
    lock = RunLock(root)
    trial = begin_by_hand(engine, snapshot, agent, lock)
    async with open_link(snapshot, agent, root) as (gateway, link), Writer(engine) as writer:

        def heard(n: int, event: Event) -> None:
            writer.keep_event(trial, n, event)
            _show_call(event)

        masker = Masker(snapshot.secret_values(), names=False)
        surroundings = TrialSurroundings(
            gateway=gateway,
            link=link,
            folder=root,
            listener=heard,
            go_without_any=True,
            leaves_servers_alone=True,
            note_missing_server=lambda server, why: say(f"without {server}, out of reach: {why}"),
            taps=SeamTaps(requests=requests_to(writer, trial, masker)),
        )
        running = TrialRun(job_by_hand(snapshot, agent), surroundings, _Person())
        trace = await running.carry_out()
    end_by_hand(engine, snapshot, trial, trace)
    lock.release()
    return trial, trace


class _Person:
    """Whoever sits at the terminal: holds no calls, and answers a server's questions."""

    @property
    def hold(self) -> Hold:
        """The same person."""
        return self

    async def opening_words(self, part: int) -> UserWords | None:
        """The line that is typed; an empty one ends the conversation."""
        text = await _read_line("you> ")
        return UserWords(text) if text else None

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        """The next line."""
        say(f"agent> {reply}")
        return await self.opening_words(part)

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        """Have an approval decided."""
        say(f"  may it call {tool} {brief_json(args)}?")
        typed = await _read_line("  y, n, or other arguments as JSON> ")
        if not typed.startswith("{"):
            return ApprovalDecision(typed.lower() in ("y", "yes"))
        try:
            return ApprovalDecision(approved=True, args=read_json(typed))
        except ValueError as error:
            say(f"  that is not JSON ({error}), so it was denied")
            return ApprovalDecision(approved=False)

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """No call is held."""
        return False

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Let it go."""
        return HoldDecision()

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        """Put a server's question; an empty line declines."""
        wants = question.url or brief_json(question.schema.get("properties"))
        say(f"  {server} asks: {question.message} {wants}")
        said = await _read_line("  an answer as JSON, or nothing> ")
        try:
            content = read_json(said) if said else None
        except ValueError as error:
            say(f"  that is not JSON ({error}), so it was declined")
            content = None
        answer = QuestionAnswer("decline", {})
        if isinstance(content, dict):
            answer = QuestionAnswer("accept", content)
        return AnsweredQuestion(answer, "person")


async def _read_line(prompt: str) -> str:
    """A line of the input, without holding up what goes on meanwhile; empty at its end."""
    say(prompt, nl=False)
    # In a thread: the agent's calls and a server's questions go on while somebody types.
    line: str = await asyncio.to_thread(sys.stdin.readline)
    # Words from a file or a pipe are shown, so that what is printed reads as a conversation.
    if not sys.stdin.isatty():
        say(line.rstrip("\n"))
    return line.strip()


def _show_call(event: Event) -> None:
    """A call, when it is over."""
    if event["kind"] != "call" or event.get("s") is None:
        return
    error = event.get("error")
    given: Any = f"{error['kind']}: {error['message']}" if error else event.get("result")
    first, *more = value_lines(given)
    ms = (event["s"] or 0) * 1000
    called = f"  {event['tool']} {brief_json(event.get('args'))} ({ms:.0f} ms) → "
    if not more:
        say(called + first)
        return
    say(called.rstrip())
    for line in (first, *more):
        say(f"    {line}")
