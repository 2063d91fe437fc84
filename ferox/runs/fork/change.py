"""What a fork changes at its point."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from pydantic import Field, model_validator

from ferox.core.json_values import brief_json
from ferox.formats.base import Address, Json, Strict
from ferox.formats.fault import NEEDS, TOOL_FAULTS, Fault, ModelFault, ToolFault

PointKind = Literal["call", "model", "turn"]
"""Where a fork begins: at a call, a model's answer or the user's words."""
FITS: dict[str, tuple[PointKind, ...]] = {
    "answer": ("call",),
    "error": ("call",),
    "fault": ("call", "model"),
    "say": ("model", "turn"),
    "call": ("model",),
    "model": ("call", "model", "turn"),
    "without": ("call", "model", "turn"),
    "wording": ("call", "model", "turn"),
}
"""At which points something can be changed."""
PLACES: dict[PointKind, str] = {
    "call": "a call",
    "model": "a model's answer",
    "turn": "the user's words",
}


class ChangeError(ValueError):
    """A change that cannot be made; the message says why."""


class OtherCall(Strict):
    """A call that a model proposes in place of what it said."""

    tool: Address
    args: dict[str, Json] = {}


class OtherWording(Strict):
    """A tool that models are shown with another description."""

    tool: Address
    description: str = Field(max_length=100_000)


class InjectedFault(Strict):
    """A fault that strikes at the point."""

    do: ToolFault | ModelFault
    text: str | None = Field(None, max_length=100_000)
    ms: float = Field(3_000, ge=0, le=600_000)
    status: Literal[401, 403, 404, 429, 500, 503] = 503

    def at(self, server: str, tool: str, count: int) -> Fault:
        """As a fault of the task, which strikes the call or request of this number."""
        given = {"do": self.do, "call": count, "server": server, "tool": tool}
        needed = NEEDS.get(self.do)
        if needed:
            given[needed] = getattr(self, needed)
        if self.text is not None:
            given["text"] = self.text
        return Fault.model_validate(given)


class ForkChange(Strict):
    """One thing that is otherwise from the point on; none: is it luck?

    `answer` is the result that a call gets; `error` an error in its place; `say` the words of the
    model, or of the user; `call` what the model proposes; `model` who is asked from then on.
    `without` are tools that models are no longer shown, and `wording` one that they are shown with
    another description, whatever the agent says of it.
    """

    answer: Json = None
    error: str | None = Field(None, max_length=100_000)
    fault: InjectedFault | None = None
    say: str | None = Field(None, max_length=100_000)
    call: OtherCall | None = None
    model: str | None = None
    without: list[Address] = Field([], min_length=1, max_length=1_000)
    wording: OtherWording | None = None

    @model_validator(mode="after")
    def _check_one(self) -> ForkChange:
        if len(self.model_fields_set) > 1:
            raise ValueError("a fork changes one thing at the most")
        fault = self.fault
        if fault is not None and fault.do == "planted_text" and not fault.text:
            raise ValueError("`planted_text` needs `text`")
        return self

    @property
    def what(self) -> str | None:
        """Which field is given; None: nothing changes."""
        return next(iter(self.model_fields_set), None)

    def check_fits(self, kind: PointKind) -> None:
        """See that it can be made at such a point.

        Raises:
            ChangeError: it cannot.
        """
        if self.what is None:
            return
        if kind not in FITS[self.what]:
            places = " or ".join(PLACES[kind] for kind in FITS[self.what])
            raise ChangeError(f"`{self.what}` is for {places}, and this is {PLACES[kind]}")
        if self.fault is not None and (self.fault.do in TOOL_FAULTS) != (kind == "call"):
            struck = "a call" if kind == "call" else "a request to a model"
            raise ChangeError(f"the fault `{self.fault.do}` does not strike {struck}")

    @property
    def words(self) -> str:
        """The change in a few words, as a sentence has them after *from here*."""
        match self.what:
            case "answer":
                empty = self.answer in ("", None, [], {})
                return "with the answer emptied" if empty else "with another answer"
            case "error":
                return "with an error in place of the answer"
            case "fault":
                assert self.fault is not None
                planted = self.fault.do == "planted_text"
                return "with a planted text" if planted else f"with the fault {self.fault.do}"
            case "say":
                return "with other words"
            case "call":
                assert self.call is not None
                return f"with {self.call.tool} proposed"
            case "model":
                return f"with the model {self.model}"
            case "without":
                named, more = self.without[:2], len(self.without) - 2
                others = f" and {more} more" if more > 0 else ""
                return f"without {', '.join(named)}{others}"
            case "wording":
                assert self.wording is not None
                return f"with another description of {self.wording.tool}"
        return "unchanged"

    def alter_shown(self, tools: list[Any], find_address: Callable[[str], str]) -> list[Any]:
        """Tools of a request, as chat completions or responses have them, as the change has models
        shown them."""
        shown = []
        for tool in tools:
            inner = tool.get("function", tool) if isinstance(tool, dict) else {}
            address = find_address(str(inner.get("name")))
            if address in self.without:
                continue
            if self.wording is not None and address == self.wording.tool:
                changed = {**inner, "description": self.wording.description}
                tool = {**tool, "function": changed} if "function" in tool else changed
            shown.append(tool)
        return shown

    @property
    def detail(self) -> str | None:
        """What is put in place, cut short; None: nothing is."""
        match self.what:
            case "answer":
                return brief_json(self.answer, 400)
            case "error" | "say":
                return (self.error or self.say or "")[:400]
            case "fault":
                return self.fault.text[:400] if self.fault and self.fault.text else None
            case "call":
                assert self.call is not None
                return f"{self.call.tool} {brief_json(self.call.args, 400)}"
            case "wording":
                return self.wording.description[:400] if self.wording else None
        return None
