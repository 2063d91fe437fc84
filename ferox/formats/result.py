"""The result of scoring one trial."""

from __future__ import annotations

from typing import Literal, NotRequired

from typing_extensions import TypedDict

Family = Literal["choice", "arguments", "order", "failures", "latency", "outcome"]
FAMILIES: tuple[Family, ...] = (
    "choice",
    "arguments",
    "order",
    "failures",
    "latency",
    "outcome",
)


class Check(TypedDict):
    """One criterion with its evidence. `passed: None` is a remark: it decides nothing."""

    family: Family
    id: str
    passed: bool | None
    message: str
    calls: list[str]
    part: NotRequired[int]
    """At a task with parts: the one it belongs to, from 0."""


class Missing(TypedDict):
    """A required call that was not made, and why."""

    name: str
    why: str


class Confusion(TypedDict):
    """One tool chosen where another was expected."""

    expected: str
    chosen: str
    call: str


Choices = dict[str, dict[str, int]]
"""By the tool that was expected, how often which one was chosen; itself, another, `nothing`, or
`not offered`: nothing, for it was not there to be chosen."""


class LatencyFigures(TypedDict):
    """Milliseconds. A turn that never ended is None; so is what a trace from elsewhere does not
    tell."""

    turn_ms: list[float | None]
    model_ms: float | None
    tool_ms: float | None
    ask_ms: float
    agent_ms: float | None


class TokenCounts(TypedDict):
    """Tokens over all requests to models."""

    input: int
    output: int
    cached: NotRequired[int]
    """Of the input, what the endpoints had kept from before."""


class WentWrong(TypedDict):
    """What went wrong first in a trial that failed, and what followed, in a sentence.

    `call`: the call or the proposal where it shows, if it shows at one; `expected`: the expected
    call that is missing, if one is.
    """

    message: str
    call: str | None
    expected: str | None


class Result(TypedDict):
    """What `ferox score` gives for one trace."""

    suite: str
    task: str
    agent: str
    trial: int
    verdict: Literal["pass", "fail", "error"]
    judged: bool
    """Whether any check decided something; a trial of which nothing is demanded passes unjudged."""
    went_wrong: WentWrong | None
    reason: str | None
    scores: dict[Family, float | None]
    alternatives: list[int | None]
    """For each part (a task without `parts` is one): with `either`, the alternative judged."""
    checks: list[Check]
    matched: dict[str, list[str]]
    attempts: dict[str, list[str]]
    extra: list[str]
    missing: list[Missing]
    confusions: list[Confusion]
    choices: NotRequired[Choices]
    """Not in results of before it was counted."""
    latency: LatencyFigures
    tokens: TokenCounts | None
