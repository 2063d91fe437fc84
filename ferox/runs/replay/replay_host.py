"""Plays stored trials back to the agents of today, in this process."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator, Iterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from ferox.core.masking import Masker
from ferox.core.replay_verdict import Difference, Replayed, compare_requests, judge_replay
from ferox.core.story import read_story
from ferox.gateway.model_seam.model_requests import ModelRequests
from ferox.runs.linking import links_of, serve_links
from ferox.runs.replay.played_back import PlayedBack
from ferox.runs.replay.stored_trial import StoredTrial, shown_request
from ferox.runs.replay.stored_user import StoredUser
from ferox.runs.snapshot import Snapshot
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_host import make_job
from ferox.runs.trial_seams import SeamTaps
from ferox.workspace import Workspace

NOT_STARTED = ("did_not_start", "could_not_run")


def snapshot_of_today(stored: Snapshot, workspace: Workspace) -> Snapshot:
    """What stored trials met, with the agents as the workspace has them now.

    An arm of a plan keeps its file: what it varies is not in the workspace. Its code is today's.
    """
    now = {
        name: workspace.agents[name]
        for name in stored.agents
        if name not in stored.arms and name in workspace.agents
    }
    said = {name: workspace.instructions[name] for name in now if name in workspace.instructions}
    # Nobody is asked for what a recording does not hold.
    servers = {
        name: file.model_copy(update={"replay": file.replay.model_copy(update={"miss": "error"})})
        for name, file in stored.servers.items()
    }
    return stored.model_copy(
        update={
            "agents": {**stored.agents, **now},
            "instructions": {**stored.instructions, **said},
            "models": {**workspace.settings.models, **stored.models},
            "servers": servers,
        }
    )


class ReplayHost:
    """Plays trials of one run back. `folder` is the workspace, `seed` the run's; `in_time`: answers
    take as long as they took."""

    def __init__(
        self, snapshot: Snapshot, seed: int, folder: Path, *, in_time: bool = False
    ) -> None:
        self._snapshot, self._seed, self._folder = snapshot, seed, folder
        self._in_time = in_time
        self._links = links_of(snapshot, folder)
        self._masker = Masker(snapshot.secret_values(), names=False)

    @asynccontextmanager
    async def serve(self) -> AsyncIterator[None]:
        """Play back while the context is open; then the agents are shut down."""
        links = self._links.values()
        async with serve_links(links, self._snapshot, self._folder) as self._gateway:
            yield

    async def replay(self, stored: StoredTrial) -> Replayed:
        """One trial, played back."""
        link = self._links[stored.order.agent]
        async with link.hold_place():
            back = PlayedBack(stored, in_time=self._in_time)
            pieces: dict[str, str] = {}
            requests: dict[str, dict[str, Any]] = {}
            taps = SeamTaps(
                requests=ModelRequests(pieces.__setitem__, requests.__setitem__, self._masker)
            )
            surroundings = TrialSurroundings(
                gateway=self._gateway,
                link=link,
                folder=self._folder,
                taps=taps,
                go_without_any=True,
                leaves_servers_alone=True,
                behind=back,
            )
            job = make_job(self._snapshot, self._seed, stored.order)
            running = TrialRun(job, surroundings, StoredUser(stored.trace))
            back.use_recorder(running.recorder)
            trace = await running.carry_out()
        now = read_story(trace)
        if now.why in NOT_STARTED and now.why != stored.story.why:
            return Replayed("not replayed", reason=now.reason or now.why)
        heard = {hashed: json.loads(text) for hashed, text in pieces.items()}
        return judge_replay(
            stored.story, now, _request_differences(back, requests, heard), back.parted
        )


def _request_differences(
    back: PlayedBack, requests: dict[str, dict[str, Any]], pieces: dict[str, Any]
) -> Iterator[Difference]:
    """How the requests of now differ from those whose answers they got, each difference once: a
    request repeats what those before it said."""
    seen: set[tuple[str, tuple[str, ...]]] = set()
    for event, stored in back.asked.items():
        if event not in requests:
            continue
        now = shown_request(requests[event], pieces)
        for found in compare_requests(stored.event["id"], stored.shown, now):
            key = (found.what, found.lines)
            if key not in seen:
                seen.add(key)
                yield found
    if back.parted is None:
        for unasked in back.unasked:
            if unasked.sent:
                yield Difference(unasked.event["id"], "asks the model less often")
                return
