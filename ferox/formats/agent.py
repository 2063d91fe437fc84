"""An agent's file: how it is reached, what it thinks with, which tools it is offered."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ferox.formats.base import Document, Json, Name, Offer, Secret, Strict

SERVICES = ("chat", "a2a", "tool", "http")
"""Links to an agent that may run by itself, and is told standing addresses once."""
OWN = "own"
"""The server part of the address of a tool that lives inside the agent."""


class Timeouts(Strict):
    """How long an agent may take, in seconds."""

    start_s: float = Field(60, gt=0)
    turn_s: float = Field(60, gt=0)


class Limits(Strict):
    """Where a trial ends whatever the agent does."""

    calls: int = Field(50, ge=1)
    model_calls: int = Field(100, ge=1)
    trial_s: float = Field(300, gt=0)


class HttpTurn(Strict):
    """How a turn is sent to a service with an interface of its own, and how its answer is read.

    Texts may hold `{{ text }}`, `{{ trial }}`, `{{ conversation }}`, `{{ now }}`,
    `{{ instructions }}`, `{{ params.… }}` and `{{ taken.… }}`.
    """

    method: Literal["GET", "POST", "PUT", "PATCH"] = "POST"
    """The request's method."""
    path: str = ""
    """What follows the agent's `url`."""
    query: dict[str, Json] = {}
    """Parameters of the address."""
    headers: dict[str, str] = {}
    """Headers besides the agent's own."""
    body: Json = None
    """What is sent: an object or a list as JSON, a text as it is."""
    reply: str | None = None
    """A JSONPath to the reply; left out: the whole body is the reply's text."""
    data: str | None = None
    """A JSONPath to a structured answer."""
    take: dict[Name, str] = {}
    """JSONPaths to what later turns send back as `{{ taken.NAME }}`."""
    stream: Literal["sse"] | None = None
    """sse: the answer is a stream of events, each with a piece of the reply at `reply`."""


class AgentFile(Document):
    """One configuration under test."""

    agent: Name
    title: str | None = None
    link: Literal["python", "process", "chat", "a2a", "tool", "http", "plain"]
    python: str | None = Field(None, description="The agent's own interpreter.")
    entry: str | None = Field(None, description="FILE.py:FACTORY, for the python link.")
    command: list[str] | None = Field(
        None, description="Starts it: a process or tool link's agent, or a service at `url`."
    )
    cwd: str | None = None
    url: str | None = Field(None, description="Of a running service: chat, a2a, tool or http link.")
    http: HttpTurn | None = Field(None, description="For the http link: how a turn is sent.")
    standing: bool = Field(
        False,
        description="true: a python or process agent that finds the servers at standing "
        "addresses, as a service does; it takes one trial at a time.",
    )
    headers: dict[str, str | Secret] = Field({}, description="For a running service.")
    tool: str | None = Field(None, description="For the tool link; left out: the only one.")
    argument: str | None = Field(
        None, description="Of that tool, for the words; left out: the only text."
    )
    env: dict[str, str | Secret] = {}
    model: Name | None = Field(
        None, description="Left out: the agent thinks elsewhere, and its model is not seen."
    )
    models: dict[Name, Name] = {}
    instructions: str = ""
    own_tools: list[str] = []
    reply_tools: list[str] = Field(
        [], description="Tools of the framework's own whose arguments are the reply."
    )
    own_seen: bool | None = Field(
        None,
        description="false: it has tools that neither the link nor the model's proposals show; "
        "left out: Ferox judges by what passes.",
    )
    offer: Offer | None = Field(
        None, description="Tools by server; left out: all of every server; {}: none."
    )
    params: dict[str, Json] = {}
    timeouts: Timeouts = Timeouts()
    limits: Limits = Limits()
    processes: int = Field(2, ge=1, le=32, description="Kept warm, each for one trial at a time.")
    fresh_process: bool = Field(False, description="A process for each trial.")

    @property
    def uses_standing_addresses(self) -> bool:
        """Whether it finds the seams at standing addresses, as a running service does."""
        return self.standing or (self.link in SERVICES and self.url is not None)

    @property
    def thinks_with(self) -> dict[str, str]:
        """The agent's names of its models, `main` among them, and the workspace's."""
        return {**({"main": self.model} if self.model else {}), **self.models}
