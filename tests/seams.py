"""Model seams for tests, with what they need around them."""

from __future__ import annotations

from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.model_seam.answering import ModelAnswering
from ferox.gateway.model_seam.own_calls import OwnCalls
from ferox.gateway.model_seam.recorded_requests import RecordedRequests
from ferox.gateway.model_seam.seam import ModelSeam
from ferox.gateway.model_seam.seen_by_model import SeenByModel
from ferox.gateway.recorder import Recorder


def model_seam(
    name: str,
    answering: ModelAnswering,
    recorder: Recorder,
    seen: SeenByModel,
    faults: FaultPlan | None = None,
) -> ModelSeam:
    """The seam of an agent's main model."""
    own = OwnCalls(recorder, seen)
    recorded = RecordedRequests(model="main", recorder=recorder, seen=seen, own=own)
    return ModelSeam(name, answering, recorded, faults)
