"""The a2a link: a running service that speaks the Agent2Agent protocol."""

from ferox.agents.link import Conversation, DidNotStart, Setup
from ferox.agents.service_link import ServiceLink


class A2ALink(ServiceLink):
    """To come."""

    async def begin(self, setup: Setup, start_s: float) -> Conversation:
        raise DidNotStart("not yet")
