"""A desk that runs by itself with the Agent2Agent protocol, built with the OpenAI Agents SDK.

Started as `a2a.py PORT`. It thinks over the responses interface, and asks back where it
cannot go on.
"""

import json
import os
import sys
from contextlib import AsyncExitStack

import uvicorn
from a2a.helpers.proto_helpers import new_task_from_user_message, new_text_part
from a2a.server.agent_execution import AgentExecutor
from a2a.server.request_handlers import DefaultRequestHandler
from a2a.server.routes import create_agent_card_routes, create_jsonrpc_routes
from a2a.server.tasks import InMemoryTaskStore, TaskUpdater
from a2a.types.a2a_pb2 import AgentCapabilities, AgentCard, AgentInterface, AgentSkill
from agents import Agent, OpenAIResponsesModel, Runner, set_tracing_disabled
from agents.mcp import MCPServerStreamableHttp
from openai import AsyncOpenAI
from starlette.applications import Starlette

SEAMS = json.loads(os.environ["FEROX_SEAMS"])
PORT = int(sys.argv[1])
set_tracing_disabled(True)


class Desk(AgentExecutor):
    """Answers a message with the agent, and keeps the history of each context."""

    def __init__(self):
        self.histories = {}

    async def execute(self, context, event_queue):
        task = context.current_task or new_task_from_user_message(context.message)
        if not context.current_task:
            await event_queue.enqueue_event(task)
        updater = TaskUpdater(event_queue, task.id, task.context_id)
        await updater.start_work(updater.new_agent_message([new_text_part("Looking it up.")]))
        before = self.histories.get(task.context_id, [])
        said, history = await self.ask([*before, {"role": "user", "content": words(context)}])
        self.histories[task.context_id] = history
        if said.rstrip().endswith("?"):
            await updater.requires_input(updater.new_agent_message([new_text_part(said)]))
        else:
            await updater.add_artifact([new_text_part(said)], name="answer")
            await updater.complete()

    async def ask(self, items):
        async with AsyncExitStack() as stack:
            servers = [
                await stack.enter_async_context(MCPServerStreamableHttp({"url": url}, name=name))
                for name, url in SEAMS["servers"].items()
            ]
            client = AsyncOpenAI(base_url=SEAMS["models"]["main"], api_key="none")
            agent = Agent(
                name="Desk",
                instructions="Answer with the tools that you are given.",
                model=OpenAIResponsesModel("desk", client),
                mcp_servers=servers,
            )
            result = await Runner.run(agent, items)
            return result.final_output, result.to_input_list()

    async def cancel(self, context, event_queue):
        raise NotImplementedError


def words(context):
    return context.get_user_input()


card = AgentCard(
    name="Desk",
    description="Answers questions.",
    version="1",
    supported_interfaces=[
        AgentInterface(
            url=f"http://127.0.0.1:{PORT}/", protocol_binding="JSONRPC", protocol_version="1.0"
        )
    ],
    capabilities=AgentCapabilities(streaming=True),
    default_input_modes=["text/plain"],
    default_output_modes=["text/plain"],
    skills=[AgentSkill(id="ask", name="Ask", description="Ask the desk.", tags=["desk"])],
)
handler = DefaultRequestHandler(Desk(), InMemoryTaskStore(), card)
routes = [*create_agent_card_routes(card), *create_jsonrpc_routes(handler, "/")]
uvicorn.run(Starlette(routes=routes), port=PORT, log_level="warning")
