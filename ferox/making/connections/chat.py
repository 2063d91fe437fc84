"""A desk that runs by itself with a chat-completions interface, built with Pydantic AI.

Started as `chat.py PORT`. It is told once where its tools and its model are.
"""

import json
import os
import sys
from contextlib import AsyncExitStack, asynccontextmanager

import uvicorn
from pydantic_ai import Agent
from pydantic_ai.mcp import MCPToolset
from pydantic_ai.messages import ModelRequest, ModelResponse, TextPart, UserPromptPart
from pydantic_ai.models.openai import OpenAIChatModel
from pydantic_ai.providers.openai import OpenAIProvider
from starlette.applications import Starlette
from starlette.responses import JSONResponse, StreamingResponse
from starlette.routing import Route

SEAMS = json.loads(os.environ["FEROX_SEAMS"])
provider = OpenAIProvider(base_url=SEAMS["models"]["main"], api_key="none")
agent = Agent(
    OpenAIChatModel("desk", provider=provider),
    instructions="Answer with the tools that you are given.",
    toolsets=[MCPToolset(url) for url in SEAMS["servers"].values()],
)


def history(messages):
    """What was said before, as the framework keeps it."""
    for message in messages:
        if message["role"] == "user":
            yield ModelRequest(parts=[UserPromptPart(message["content"])])
        elif message["role"] == "assistant":
            yield ModelResponse(parts=[TextPart(message["content"])])


async def complete(request):
    body = await request.json()
    *before, last = [m for m in body["messages"] if m["role"] != "system"]
    result = await agent.run(last["content"], message_history=list(history(before)))
    if not body.get("stream"):
        message = {"role": "assistant", "content": result.output}
        return JSONResponse({"choices": [{"index": 0, "message": message}]})

    async def pieces():
        for word in result.output.split(" "):
            delta = {"choices": [{"index": 0, "delta": {"content": f"{word} "}}]}
            yield f"data: {json.dumps(delta)}\n\n"
        yield "data: [DONE]\n\n"

    return StreamingResponse(pieces(), media_type="text/event-stream")


@asynccontextmanager
async def lifespan(app):
    async with AsyncExitStack() as stack:
        await stack.enter_async_context(agent)  # connects for as long as it runs
        yield


app = Starlette(
    routes=[Route("/v1/chat/completions", complete, methods=["POST"])], lifespan=lifespan
)
uvicorn.run(app, port=int(sys.argv[1]), log_level="warning")
