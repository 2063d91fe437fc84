"""The a2a link: a running service that speaks the Agent2Agent protocol, by the official SDK."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import httpx
from a2a.client import A2ACardResolver, Client, ClientConfig, ClientFactory
from a2a.client.errors import A2AClientError, AgentCardResolutionError
from a2a.helpers.proto_helpers import get_data_parts, get_text_parts
from a2a.types.a2a_pb2 import (
    Artifact,
    Message,
    Part,
    Role,
    SendMessageRequest,
    StreamResponse,
    TaskState,
    TaskStatus,
)
from a2a.utils.errors import A2AError

from ferox.agents.links.link import (
    AgentCrashed,
    AgentDidNotStart,
    AgentHooks,
    AgentReply,
    AgentSetup,
    Conversation,
)
from ferox.agents.links.service import ServiceLink

_OPEN = {TaskState.TASK_STATE_INPUT_REQUIRED, TaskState.TASK_STATE_AUTH_REQUIRED}
_BROKEN = {
    TaskState.TASK_STATE_FAILED,
    TaskState.TASK_STATE_REJECTED,
    TaskState.TASK_STATE_CANCELED,
}


class A2ALink(ServiceLink):
    """Sends the agent a message a turn, all in one context of the protocol."""

    async def begin_conversation(self, setup: AgentSetup, start_s: float) -> Conversation:
        url = (self.agent.url or "").rstrip("/")
        async with self.http_client() as knocking:
            await self.check_reachable(knocking, url, start_s)
        http = httpx.AsyncClient(
            timeout=httpx.Timeout(10, read=None), headers=self.request_headers()
        )
        try:
            card = await A2ACardResolver(http, url).get_agent_card()
            client = ClientFactory(ClientConfig(httpx_client=http)).create(card)
        except AgentCardResolutionError as error:
            await http.aclose()
            message = f"{url} shows no agent card ({error})"
            raise AgentDidNotStart(
                f"{message}; `url` is what stands before /.well-known/agent-card.json"
            ) from None
        except (A2AError, ValueError) as error:
            await http.aclose()
            raise AgentDidNotStart(
                f"its agent card offers no way that Ferox knows: {error}"
            ) from None
        except BaseException:
            await http.aclose()
            raise
        return _A2AConversation(client, http)


class _A2AConversation(Conversation):
    def __init__(self, client: Client, http: httpx.AsyncClient) -> None:
        self._client, self._http = client, http
        self._context, self._task = "", ""

    async def send_turn(self, text: str, hooks: AgentHooks) -> AgentReply:
        message = Message(
            role=Role.ROLE_USER, message_id=uuid4().hex, parts=[Part(text=text)],
            context_id=self._context, task_id=self._task,
        )  # fmt: skip
        heard = _A2AOutput(hooks)
        try:
            async for event in self._client.send_message(SendMessageRequest(message=message)):
                heard.take_event(event)
        except (A2AClientError, A2AError) as error:
            raise AgentCrashed(f"the agent answered with an error: {error}") from None
        except httpx.HTTPError as error:
            raise AgentCrashed(f"the agent: {type(error).__name__}: {error}") from None
        self._context = heard.context or self._context
        self._task = heard.task if heard.state in _OPEN else ""
        if heard.state in _BROKEN:
            state = TaskState.Name(heard.state).removeprefix("TASK_STATE_").lower()
            raise AgentCrashed(f"the agent's task was {state}: {heard.text or 'it said nothing'}")
        return AgentReply(heard.text, heard.data)

    async def close(self) -> bool:
        await self._client.close()
        await self._http.aclose()
        return True


class _A2AOutput:
    """What comes back of one message: a message, or a task with its states and artifacts."""

    def __init__(self, hooks: AgentHooks) -> None:
        self._hooks = hooks
        self._artifacts: dict[str, list[Part]] = {}
        self._said: list[Part] = []
        self.context, self.task = "", ""
        self.state: int | None = None

    def take_event(self, event: StreamResponse) -> None:
        """Take one event of the stream."""
        match event.WhichOneof("payload"):
            case "message":
                self.context = event.message.context_id
                self._said = list(event.message.parts)
            case "task":
                self.context, self.task = event.task.context_id, event.task.id
                self._take_status(event.task.status)
                for artifact in event.task.artifacts:
                    self._take_artifact(artifact, False)
            case "status_update":
                update = event.status_update
                self.context, self.task = update.context_id, update.task_id
                self._take_status(update.status)
            case "artifact_update":
                self._take_artifact(event.artifact_update.artifact, event.artifact_update.append)
        if self.text:
            self._hooks.partial(self.text)

    def _take_status(self, status: TaskStatus) -> None:
        self.state = status.state
        if status.HasField("message"):
            self._said = list(status.message.parts)

    def _take_artifact(self, artifact: Artifact, append: bool) -> None:
        before = self._artifacts.get(artifact.artifact_id, []) if append else []
        self._artifacts[artifact.artifact_id] = [*before, *artifact.parts]

    def _reply_parts(self) -> list[Part]:
        made = [part for parts in self._artifacts.values() for part in parts]
        # Words on the way there are no reply once there is a result.
        return made or self._said

    @property
    def text(self) -> str:
        """The words of the reply."""
        return "\n".join(get_text_parts(self._reply_parts()))

    @property
    def data(self) -> Any:
        """The structured answer, if there is one."""
        found = get_data_parts(self._reply_parts())
        return found[0] if found else None
