"""Shrinks a failing trial: leaves out what it fails without, within a budget of trials."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, NamedTuple

from ferox.core.delta_debugging import Minimizing
from ferox.core.naming import counted_noun
from ferox.formats.result import Check, Result
from ferox.formats.trace import Trace
from ferox.gateway.model_seam.turns import OwnTurns
from ferox.runs.linking import links_of, serve_links
from ferox.runs.preparing import hold_servers, remembering_servers
from ferox.runs.records import RunError, check_agreed
from ferox.runs.scripted_user import ScriptedUser
from ferox.runs.shrink.pieces import NOUNS, Piece, pieces_of, the_only, with_pieces
from ferox.runs.snapshot import Snapshot, narrowed_to
from ferox.runs.stored_snapshots import snapshot_of
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_host import TrialJudge, make_job
from ferox.runs.trial_order import TrialOrder
from ferox.store.database import Engine, read_session, results_folder
from ferox.store.results import read_result
from ferox.store.runs import get_run
from ferox.store.traces import read_trace
from ferox.store.trials import find_trial

APART = 1_000
"""Between the numbers of the trials that a candidate is tried in: each has chance of its own."""
MOST_TRIALS = 2_000
"""Trials of the largest budget."""


class ShrinkWish(NamedTuple):
    """Which trial, which of its failed checks (None: the first), in how many of so many repeats it
    has to fail, and how many trials may be carried out in all."""

    trial: int
    check: str | None = None
    repeats: int = 3
    at_least: int = 3
    budget: int = 100


@dataclass
class Shrunk:
    """How far a trial is shrunk: what is left of it, and what was left out."""

    check: str
    pieces: list[Piece]
    kept: list[Piece]
    snapshot: Snapshot
    """With what is left."""
    tried: int = 0
    """Trials that were carried out."""
    budget: int = 0
    state: str = "running"
    """running, done, stopped, budget (it is spent), or steady: as it is, it does not fail often
    enough."""
    failed: int = 0
    """How many of `of` trials of what is left failed in the check, when it was last tried."""
    of: int = 0

    @property
    def gone(self) -> list[Piece]:
        """What was left out."""
        kept = {*self.kept}
        return [piece for piece in self.pieces if piece not in kept]

    @property
    def needed_lines(self) -> list[str] | None:
        """The lines of the instructions that are left; None: none was left out."""
        if not any(piece.kind == "line" for piece in self.gone):
            return None
        return [piece.words for piece in self.kept if piece.kind == "line"]

    @property
    def task(self) -> dict[str, Any]:
        """The task that is left, as a suite's file holds it."""
        _, task, _ = the_only(self.snapshot)
        found: dict[str, Any] = task.model_dump(mode="json", by_alias=True, exclude_unset=True)
        return found

    @property
    def instructions(self) -> str:
        """The instructions that are left."""
        _, _, agent = the_only(self.snapshot)
        return self.snapshot.instructions[agent]

    @property
    def sentence(self) -> str:
        """What came of it, in a line."""
        often = f"{self.failed} of {counted_noun(self.of, 'trial')}"
        if self.state == "steady":
            return f"as it is, {self.check} fails in {often} only: nothing was left out"
        counts = ", ".join(_counts(self.kept, self.pieces))
        return f"{self.check} still fails in {often} with {counts or 'nothing to leave out'}"


def _counts(kept: list[Piece], pieces: list[Piece]) -> list[str]:
    """As *2 of 11 tools*."""
    return [
        f"{sum(p.kind == kind for p in kept)} of {total} {one if total == 1 else many}"
        for kind, (one, many) in NOUNS.items()
        if (total := sum(p.kind == kind for p in pieces))
    ]


class _BudgetSpent(Exception):
    """No further trial may be carried out."""


Listener = Callable[[Shrunk], None]


class Shrinking:
    """Leaves out of a failing trial what it fails without; `shrunk` is how far it is.

    Raises:
        RunError: there is no such trial, or the check did not fail in it.
        SecretsNotAgreed: secrets would go somewhere for the first time.
    """

    def __init__(self, engine: Engine, root: Path, wish: ShrinkWish) -> None:
        self._root, self._wish = root, wish
        with read_session(engine) as session:
            trial = find_trial(session, wish.trial)
            result = read_result(session, wish.trial) if trial else None
            trace = read_trace(session, wish.trial) if trial else None
            if trial is None or result is None or trace is None:
                raise RunError(f"trial {wish.trial} is not there, or has not ended")
            self._order = TrialOrder.of_trial(trial)
            self._seed = get_run(session, trial.run_id).seed
            snapshot = snapshot_of(session, trial.run_id)
            if snapshot.fork is not None:
                raise RunError(f"it is a fork: shrink trial {snapshot.fork.trial}")
            self._whole = narrowed_to(snapshot, trial, root)
        check_agreed(self._whole)
        check = failed_check(result, wish.check)
        self._check = check_key(check, trace)
        used = result["tokens"]
        self.tokens = used and used["input"] + used["output"]
        """What the trial took, in and out; None: it was not seen."""
        pieces = pieces_of(self._whole, trace, check.get("part"))
        self.shrunk = Shrunk(
            check=check["id"],
            pieces=pieces,
            kept=pieces,
            snapshot=self._whole,
            budget=wish.budget,
        )

    async def carry_out(
        self,
        listener: Listener = lambda shrunk: None,
        stop: asyncio.Event | None = None,
    ) -> Shrunk:
        """Shrink it. `listener` hears of each trial; `stop` ends it with what is left then."""
        self._listener, self._stop = listener, stop or asyncio.Event()
        links = links_of(self._whole, self._root)
        self._link = links[self._order.agent]
        async with (
            serve_links([self._link], self._whole, self._root) as self._gateway,
            self._link.hold_place(),
        ):
            try:
                await self._minimize()
            except _BudgetSpent:
                self.shrunk.state = "stopped" if self._stop.is_set() else "budget"
        self._listener(self.shrunk)
        return self.shrunk

    async def _minimize(self) -> None:
        if not await self._fails(self.shrunk.pieces):
            self.shrunk.state = "steady"
            return
        await Minimizing(self.shrunk.pieces, self._fails).minimize()
        self.shrunk.state = "done"

    async def _fails(self, kept: list[Piece]) -> bool:
        """Whether the check still fails often enough with only these; if so, they are what is
        left."""
        shrunk, wish = self.shrunk, self._wish
        snapshot = with_pieces(self._whole, shrunk.pieces, kept)
        failed = passed = 0
        # As soon as it is decided no further trial is carried out: each may cost money.
        while failed < wish.at_least and passed <= wish.repeats - wish.at_least:
            if self._stop.is_set() or shrunk.tried >= wish.budget:
                raise _BudgetSpent
            number = self._order.number + APART * (failed + passed)
            failed_in = await self._try(snapshot, number)
            if self._stop.is_set():
                raise _BudgetSpent  # a trial that was broken off says nothing
            shrunk.tried += 1
            if self._check in failed_in:
                failed += 1
            else:
                passed += 1
            self._listener(shrunk)
        if failed >= wish.at_least:
            shrunk.kept, shrunk.snapshot = kept, snapshot
            shrunk.failed, shrunk.of = failed, failed + passed
            self._listener(shrunk)
            return True
        if kept == shrunk.pieces:
            shrunk.failed, shrunk.of = failed, failed + passed
        return False

    async def _try(self, snapshot: Snapshot, number: int) -> set[CheckKey]:
        """Which checks fail in one trial."""
        suite, task, _ = the_only(snapshot)
        order = replace(self._order, number=number)
        surroundings = TrialSurroundings(
            gateway=self._gateway,
            link=self._link,
            folder=self._root,
            stop=self._stop,
            turns=OwnTurns(),
        )
        job = make_job(snapshot, self._seed, order)
        user = ScriptedUser(task, clock=snapshot.clock_of(suite))
        held = remembering_servers(suite, snapshot.servers)
        async with hold_servers(results_folder(self._root), held):
            trace = await TrialRun(job, surroundings, user).carry_out()
        result, _ = await asyncio.to_thread(TrialJudge(snapshot).judge, order, trace)
        return {check_key(c, trace) for c in result["checks"] if c["passed"] is False}


CheckKey = tuple[str, int]


def check_key(check: Check, trace: Trace) -> CheckKey:
    """What is equal for the same check of two trials. Where its id names a call or a proposal, that
    is its tool here: which number it has depends on what came before. Of a task with parts that
    has one left, checks do not tell their part."""
    tools = {e["id"]: e["tool"] for e in trace["events"] if e["kind"] == "call"}
    for event in trace["events"]:
        if event["kind"] == "model":
            tools |= {p["id"]: p["tool"] for p in event.get("proposed") or ()}
    words = [tools.get(word, word) for word in check["id"].split(".")]
    return ".".join(words), check.get("part", 0)


def failed_check(result: Result, wanted: str | None) -> Check:
    """The check that a trial is shrunk by: the wanted one, or the first that failed.

    Raises:
        RunError: it did not fail.
    """
    failed = [check for check in result["checks"] if check["passed"] is False]
    if wanted is None and failed:
        return failed[0]
    for check in failed:
        if check["id"] == wanted:
            return check
    names = ", ".join(check["id"] for check in failed)
    if wanted is None or not failed:
        raise RunError("none of its checks failed, so there is nothing to shrink")
    raise RunError(f"`{wanted}` did not fail in this trial; those that did: {names}")
