"""What an agent thinks with: a stand-in, a recording or an endpoint."""

from __future__ import annotations

from ferox.core.clock import Clock
from ferox.formats.trace import TokenPrice
from ferox.formats.workspace import ModelSource
from ferox.gateway.model_seam.answering import ModelAnswering
from ferox.gateway.model_seam.endpoint import Endpoint
from ferox.gateway.model_seam.passed_on import PassedOnModel
from ferox.gateway.model_seam.recorded_model import RecordedModel
from ferox.gateway.model_seam.stand_in_model import StandInModel
from ferox.gateway.model_seam.turns import ModelTurns
from ferox.gateway.recorder import Recorder
from ferox.recordings.model_recording import ExchangeListener
from ferox.runs.snapshot import Snapshot
from ferox.stand_in.model import StandIn


def token_price(source: ModelSource) -> TokenPrice | None:
    """What a model's tokens cost, as a trace holds it; None if that is not known."""
    price = source.price
    if price is None:
        return {"free": True} if source.is_free else None
    found: TokenPrice = {
        "currency": price.currency,
        "per": price.per,
        "sent": price.in_,
        "answered": price.out,
    }
    if price.cached_in is not None:
        found["cached"] = price.cached_in
    return found


def open_model(
    snapshot: Snapshot,
    name: str,
    *,
    seed: int,
    clock: Clock,
    recorder: Recorder,
    turns: ModelTurns,
    capture: ExchangeListener | None = None,
) -> ModelAnswering:
    """One of the workspace's models, by its name.

    Raises:
        UnsetSecret: an endpoint's key is not set.
        RecordingError: a recording cannot be read.
    """
    source = snapshot.models[name]
    if source.recording:
        live = Endpoint(source, name, turns) if source.miss == "live" else None
        recorded = RecordedModel(snapshot.model_recording(source.recording), live)
        return PassedOnModel(name, recorded, recorder, capture)
    if source.base_url:
        return PassedOnModel(name, Endpoint(source, name, turns), recorder, capture)
    document = snapshot.stand_ins[source.stand_in or ""]
    return StandInModel(name, lambda drawn: StandIn(document, source.manner, drawn, clock), seed)
