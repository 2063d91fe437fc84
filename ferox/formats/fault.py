"""A fault: a failure that Ferox injects, and when."""

from __future__ import annotations

from typing import Literal, get_args

from pydantic import Field, model_validator

from ferox.formats.base import Address, Json, Strict

ToolFault = Literal[
    "slow",
    "timeout",
    "tool_error",
    "protocol_error",
    "status",
    "drop",
    "garbled",
    "wrong_shape",
    "empty",
    "huge",
    "lost_session",
    "missing_tool",
    "tools_changed",
    "planted_text",
]
ModelFault = Literal[
    "model_slow", "model_status", "model_bad_arguments", "model_unknown_tool", "model_cut_off"
]
TOOL_FAULTS: tuple[str, ...] = get_args(ToolFault)

NEEDS: dict[str, str] = {
    "slow": "ms",
    "model_slow": "ms",
    "status": "status",
    "model_status": "status",
    "planted_text": "text",
}
"""What a kind cannot do without."""


class ObeyedIf(Strict):
    """The call that would obey a planted text."""

    tool: Address
    args: dict[str, Json] = {}


class Fault(Strict):
    """One failure. Exactly one of `call`, `rate` and `all` says when it strikes."""

    do: ToolFault | ModelFault
    server: str = Field("*", description="A glob; left out: any.")
    tool: str = Field("*", description="A glob; left out: any.")
    call: int | None = Field(None, ge=1, description="The n-th call that fits, from 1.")
    rate: float | None = Field(None, ge=0, le=1, description="The share of calls, by seed.")
    seed: int = 0
    all: Literal[True] | None = None
    ms: float | None = Field(None, ge=0)
    style: Literal["silent", "pings"] = Field(
        "silent", description="Of a timeout: not a byte, or an open stream with pings."
    )
    after_ms: float | None = Field(None, gt=0, description="A timeout ends then; left out: never.")
    text: str | None = None
    code: int = Field(-32603, description="Of a protocol error.")
    status: Literal[401, 403, 404, 429, 500, 503] | None = None
    retry_after_s: int | None = Field(None, ge=0)
    bytes: int = Field(2_000_000, ge=1, le=64_000_000)
    obeyed_if: ObeyedIf | None = None

    @model_validator(mode="after")
    def _check_complete(self) -> Fault:
        if sum(v is not None for v in (self.call, self.rate, self.all)) != 1:
            raise ValueError("a fault has exactly one of `call`, `rate` and `all`")
        needed = NEEDS.get(self.do)
        if needed and getattr(self, needed) is None:
            raise ValueError(f"`{self.do}` needs `{needed}`")
        return self
