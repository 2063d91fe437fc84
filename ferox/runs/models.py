"""What the agent of a trial thinks with: stand-ins, recordings and endpoints."""

from __future__ import annotations

from ferox.core.clock import Clock
from ferox.formats.agent import AgentFile
from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.endpoint import Endpoint
from ferox.gateway.model_seam.recorded_model import RecordedModel
from ferox.gateway.model_seam.seam import Source
from ferox.runs.snapshot import Snapshot
from ferox.stand_in.model import StandIn


def open_models(snapshot: Snapshot, agent: AgentFile, seed: int, clock: Clock) -> dict[str, Source]:
    """An agent's models, by the workspace's names.

    Raises:
        UnsetSecret: an endpoint's key is not set.
        RecordingError: a recording cannot be read.
    """

    def opened(name: str, source: ModelSource) -> Source:
        if source.recording:
            live = Endpoint(source, name) if source.miss == "live" else None
            return RecordedModel(snapshot.model_recording(source.recording), live)
        if source.base_url:
            return Endpoint(source, name)
        document = snapshot.stand_ins[source.stand_in or ""]
        return lambda: StandIn(document, source.manner, seed, clock)

    return {name: opened(name, snapshot.models[name]) for name in {*agent.thinks_with.values()}}
