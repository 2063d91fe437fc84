"""A desk that runs by itself with an interface of its own, built with Pydantic AI.

Started as `http.py PORT`. `POST /ask` takes a question and a thread, and answers with JSON or a
stream of events. It is told once where its tools and its model are.
"""

import json
import os
import sys
from contextlib import AsyncExitStack, asynccontextmanager

import uvicorn
from pydantic_ai import Agent
from pydantic_ai.mcp import MCPToolset
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
threads = {}


async def ask(request):
    asked = await request.json()
    thread = asked.get("thread") or f"thread-{len(threads) + 1}"
    result = await agent.run(asked["question"], message_history=threads.get(thread))
    threads[thread] = result.all_messages()
    if "stream" not in request.query_params:
        answer = {"text": result.output, "words": len(result.output.split())}
        return JSONResponse({"thread": thread, "answer": answer})

    async def pieces():
        for word in result.output.split(" "):
            yield f"data: {json.dumps({'thread': thread, 'piece': f'{word} '})}\n\n"
        yield "data: [DONE]\n\n"

    return StreamingResponse(pieces(), media_type="text/event-stream")


@asynccontextmanager
async def lifespan(app):
    async with AsyncExitStack() as stack:
        await stack.enter_async_context(agent)  # connects for as long as it runs
        yield


app = Starlette(routes=[Route("/ask", ask, methods=["POST"])], lifespan=lifespan)
uvicorn.run(app, port=int(sys.argv[1]), log_level="warning")
