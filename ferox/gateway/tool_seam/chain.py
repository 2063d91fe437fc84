"""The chain of the tool seam: what a call passes on its way to the server, in order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ferox.formats.server import ToolWording
from ferox.gateway.answering_questions import QuestionTaker
from ferox.gateway.fault_plan import FaultPlan
from ferox.gateway.holding import Hold
from ferox.gateway.recorder import Recorder
from ferox.gateway.tool_seam.faulted import Faulted
from ferox.gateway.tool_seam.from_source import FromSource
from ferox.gateway.tool_seam.held import Held
from ferox.gateway.tool_seam.offered import Offered
from ferox.gateway.tool_seam.questions import WithQuestions
from ferox.gateway.tool_seam.recorded import Recorded
from ferox.gateway.tool_seam.reworded import Reworded
from ferox.gateway.tool_seam.step import ToolStep
from ferox.servers.sources.source import Source


@dataclass(frozen=True, kw_only=True)
class SeamSettings:
    """What stands between an agent and one server.

    `offer` is "all" or globs of the server's own tool names; what is not offered does not exist
    for the agent. `narrowed` is the same of the task, which takes some of that away. `wording`
    changes what it reads. `hold` is a person who may stop a call before it goes out; `questions`
    the user who answers what the server asks and the agent's client cannot take.
    """

    offer: str | list[str] = "all"
    narrowed: str | list[str] = "all"
    wording: Mapping[str, ToolWording] = field(default_factory=dict)
    faults: FaultPlan | None = None
    hold: Hold | None = None
    questions: QuestionTaker | None = None


def build_chain(source: Source, recorder: Recorder, settings: SeamSettings) -> ToolStep:
    """The steps of a seam, the last first: a call passes them from the bottom up.

    Events hold the server's own names, so the names come first. A held call is recorded once it
    goes out. A call of what is not offered, or that a fault strikes, is recorded with the answer
    that the agent got.
    """
    step: ToolStep = FromSource(source)
    if settings.faults is not None:
        step = Faulted(step, source.name, settings.faults, recorder)
    step = Offered(Offered(step, settings.narrowed), settings.offer)
    if settings.questions is not None:
        step = WithQuestions(step, source.name, settings.questions, recorder)
    step = Recorded(step, source.name, recorder)
    if settings.hold is not None:
        step = Held(step, source.name, settings.hold, recorder)
    return Reworded(step, settings.wording)
