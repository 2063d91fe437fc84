"""How an agent is connected: the files for each link and framework, ready to copy."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

CODE = Path(__file__).parent / "connections"


@dataclass(frozen=True)
class Connection:
    """One way of building an agent, and how Ferox drives it.

    `code` is a file beside this one; `lines` are what the agent's file says besides; `needs`
    is what its environment must hold; `particular` is what is worth knowing of it.
    """

    name: str
    title: str
    link: str
    lines: tuple[str, ...] = ()
    code: str | None = None
    needs: str = ""
    particular: str = ""


VENV = ".venv/bin/python"
PYTHON = (f"python: {VENV}", "entry: agents/{file}:open_desk")
CONNECTIONS: tuple[Connection, ...] = (
    Connection(
        "plain",
        "No code yet: Ferox's own loop",
        "plain",
        particular="Model, instructions and tools, nothing else: to try a model or a prompt.",
    ),
    Connection(
        name="langgraph",
        title="LangGraph",
        link="python",
        lines=PYTHON,
        code="langgraph.py",
        needs="langgraph langchain langchain-openai langchain-mcp-adapters 'mcp<2'",
        particular=(
            "Opens a session for each call, and lists the tools again after it. A protocol "
            "error ends the turn, and a dropped connection is waited for without end. Of two "
            "tools of the same name it silently hides one."
        ),
    ),
    Connection(
        name="openai-agents",
        title="OpenAI Agents SDK",
        link="python",
        lines=PYTHON,
        code="openai_agents.py",
        needs="openai-agents",
        particular=(
            "Speaks the responses interface unless it is given another model class. A call has "
            "5 s. Errors of the protocol reach the model without their message; an unknown tool "
            "ends the turn. It refuses a call whose required argument is missing before it "
            "reaches the server."
        ),
    ),
    Connection(
        name="pydantic-ai",
        title="Pydantic AI",
        link="python",
        lines=PYTHON,
        code="pydantic_ai.py",
        needs="'pydantic-ai-slim[openai,mcp]'",
        particular=(
            "Its model reads only the structured part of a result. After a dropped connection "
            "the next turn fails. Two tools of the same name fail the turn."
        ),
    ),
    Connection(
        name="smolagents",
        title="smolagents",
        link="python",
        lines=PYTHON,
        code="smolagents.py",
        needs="smolagents mcpadapt 'mcp<2' openai",
        particular=(
            "Even its reply is a call (final_answer), and the history has no tool messages. "
            "Every argument without null becomes required in the schema. It reads only the "
            "first page of a list, renames what is not a Python name, and hangs on HTTP errors "
            "of a server."
        ),
    ),
    Connection(
        name="python",
        title="Another framework in Python",
        link="python",
        lines=PYTHON,
        code="python.py",
        needs="",
        particular=(
            "A factory: an async context manager that takes the trial and yields a function "
            "from the user's words to the reply. The example is a plain loop that needs no package."
        ),
    ),
    Connection(
        name="process",
        title="Any language: a process",
        link="process",
        lines=("command: [node, agents/{file}]",),
        code="process.js",
        needs="npm install @modelcontextprotocol/sdk",
        particular=(
            "One JSON object a line on standard input and output; standard error is its log. "
            "The example is JavaScript."
        ),
    ),
    Connection(
        name="chat",
        title="A service with a chat-completions interface",
        link="chat",
        lines=("url: http://127.0.0.1:9000/v1", f"command: [{VENV}, agents/{{file}}, '9000']"),
        code="chat.py",
        needs="'pydantic-ai-slim[openai,mcp]' uvicorn starlette",
        particular=(
            "It takes its tools and its model at the standing addresses below, and one trial at "
            "a time. With a `command` Ferox starts it if nothing answers, and tells it the "
            "addresses in FEROX_SEAMS; without, tell them to it once. The example is Pydantic AI."
        ),
    ),
    Connection(
        name="http",
        title="A service with an interface of its own",
        link="http",
        lines=(
            "url: http://127.0.0.1:9000",
            f"command: [{VENV}, agents/{{file}}, '9000']",
            "http:",
            "  path: /ask",
            '  body: {{question: "{{{{ text }}}}", thread: "{{{{ conversation }}}}"}}',
            "  reply: $.answer.text",
            "  data: $.answer",
        ),
        code="http.py",
        needs="'pydantic-ai-slim[openai,mcp]' uvicorn starlette",
        particular=(
            "Say under `http` what a turn sends, and where the reply stands in the answer; "
            "`stream: sse` reads a stream of events. It takes its tools and its model at the "
            "standing addresses below, and one trial at a time. A service that thinks elsewhere "
            "has no `model`. The example is Pydantic AI."
        ),
    ),
    Connection(
        name="a2a",
        title="A service that speaks Agent2Agent",
        link="a2a",
        lines=("url: http://127.0.0.1:9000", f"command: [{VENV}, agents/{{file}}, '9000']"),
        code="a2a.py",
        needs="openai-agents 'a2a-sdk[http-server]>=1.3' uvicorn",
        particular=(
            "Its agent card must be at /.well-known/agent-card.json. It takes its tools and its "
            "model at the standing addresses below, and one trial at a time; with a `command` "
            "Ferox starts it if nothing answers. The example is the OpenAI Agents SDK."
        ),
    ),
    Connection(
        name="tool",
        title="An agent that is a tool of an MCP server",
        link="tool",
        lines=(
            f"command: [{VENV}, agents/{{file}}]",
            "tool: ask_desk",
            "argument: question",
        ),
        code="tool.py",
        needs="langgraph langchain langchain-openai langchain-mcp-adapters 'mcp<2'",
        particular=(
            "A command speaks MCP over stdio, is started for each trial, and finds its servers "
            "and models in FEROX_OPEN; a `url` is a running service with standing addresses. The "
            "example is LangGraph."
        ),
    ),
)


def find_connection(name: str) -> Connection | None:
    """A connection by its name; None if there is none."""
    return next((c for c in CONNECTIONS if c.name == name), None)


def connection_files(found: Connection, agent: str, model: str) -> dict[str, str]:
    """The files that connect an agent of this name: path in the workspace → text. Without a model
    it thinks elsewhere."""
    ending = Path(found.code).suffix if found.code else ""
    # Never the name of a framework alone: beside itself it would be imported in its place.
    file = f"{agent.replace('-', '_')}_agent{ending}"
    lines = [
        "ferox: 1",
        f"agent: {agent}",
        f"link: {found.link}",
        *(line.format(file=file) for line in found.lines),
        *([f"model: {model}"] if model or found.link == "plain" else []),
        "instructions: Answer with the tools that you are given. Say so where they cannot tell.",
    ]
    made = {f"agents/{agent}.yaml": "\n".join(lines) + "\n"}
    if found.code:
        made[f"agents/{file}"] = (CODE / found.code).read_text(encoding="utf-8")
    return made
