"""Probes of agents, and how far they are."""

from __future__ import annotations

import asyncio

from ferox.runs.overrides import Overrides
from ferox.runs.probe import Probe
from ferox.runs.trial_by_hand import prepare_by_hand
from ferox.servers.by_hand.watched import Watched
from ferox.web.agents import shapes
from ferox.web.routing import Routes
from ferox.web.shapes import TrialRemark
from ferox.web.site import site

routes = Routes("probing")


class RunningProbe(Watched):
    """A probe that goes on, or is over."""

    def __init__(self, probe: Probe) -> None:
        super().__init__()
        self.probe = probe
        self.probe.doing = "starting"
        probe.listener = self.note_change
        self._task = asyncio.create_task(self._carry_out())

    async def _carry_out(self) -> None:
        try:
            await self.probe.carry_out()
        except Exception as error:
            self.probe.doing = None
            self.probe.failed(f"Ferox itself failed: {type(error).__name__}: {error}")
        self.note_change(over=True)

    def shape(self, number: str) -> shapes.ProbeShape:
        """The probe as the screen shows it."""
        probe = self.probe
        return shapes.ProbeShape(
            id=number,
            version=self.version,
            doing=probe.doing,
            steps=[shapes.StepShape(**vars(s)) for s in probe.steps],
            tools=[shapes.SeenToolShape(**vars(t)) for t in probe.tools],
            own_tools=probe.own_tools,
            remarks=[TrialRemark(kind=r.kind, text=r.text) for r in probe.remarks],
            reply=probe.reply,
            log=probe.log,
        )


@routes.post("/api/agents/<agent>/probe")
def start_probe(path: shapes.AgentPath, body: shapes.ProbeRequest) -> shapes.ProbeShape:
    """Begin to probe an agent."""
    overrides = Overrides.model_validate(body.overrides.model_dump())
    snapshot, without = prepare_by_hand(site.root, path.agent, overrides, body.offer)
    root = site.root.absolute()

    async def start() -> RunningProbe:
        return RunningProbe(Probe(snapshot, path.agent, root, without=without))

    running = site.loop.run(start())
    return running.shape(site.probes.add(running))


@routes.get("/api/probes/<number>")
def probe_now(path: shapes.NumberPath) -> shapes.ProbeShape:
    """A probe as it is now."""
    return site.probes.find(path.number).shape(path.number)
