"""Holding a call: stop before it goes out, until a person lets it go."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal, Protocol

from ferox.core.definitions import only_reads
from ferox.core.story import fits_any
from ferox.servers.sources.source import (
    Definition,
    ToolOutput,
    failed_output,
    tool_output,
)

GO, ARGS, ANSWER, FAIL = "go", "args", "answer", "fail"


@dataclass(frozen=True)
class HoldRule:
    """Which calls are held: any, those that may write, a trial's first, or a tool's (a glob)."""

    when: Literal["any", "writes", "first", "tool"]
    tool: str = "*"

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Whether a call is to be held. A tool that does not say that it only reads may write."""
        match self.when:
            case "writes":
                return not only_reads(tool)
            case "first":
                return first
            case "tool":
                return fits_any(address, [self.tool])
        return True


@dataclass(frozen=True)
class HoldDecision:
    """What a person decides of a held call.

    `go`; `args`: go with `value` as arguments; `answer`: `value` in the server's place;
    `fail`: an error with `value` as its words.
    """

    do: str = GO
    value: Any = None

    def final_args(self, given: dict[str, Any]) -> dict[str, Any]:
        """The arguments with which the call goes."""
        return self.value if self.do == ARGS and isinstance(self.value, dict) else given

    def given_answer(self, tool: Definition) -> ToolOutput | None:
        """The answer that is given in the server's place; None if the server is asked."""
        if self.do == FAIL:
            return failed_output(str(self.value or "The call was refused by hand."))
        return tool_output(self.value, tool) if self.do == ANSWER else None


class Hold(Protocol):
    """A person beside a trial, who may hold its calls."""

    def wants_call(self, address: str, tool: Definition, first: bool) -> bool:
        """Whether a call is to be held now."""

    async def wait_for_decision(self, address: str, args: dict[str, Any]) -> HoldDecision:
        """Wait until a person decides."""
