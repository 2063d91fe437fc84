"""A recording's lines: a header, then the protocol's messages."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ferox.formats.base import Json


class RecordingHeader(BaseModel):
    """The first line of a recording. A reader ignores what it does not know."""

    model_config = ConfigDict(extra="allow", frozen=True)

    ferox_recording: Literal[1] = Field(description="Version of the format; always 1.")
    server: str
    captured_at: str = Field(description="RFC 3339.")
    protocol: str | None = None
    transport: str | None = None
    server_info: dict[str, Json] | None = None
    client_info: dict[str, Json] | None = None


class RecordedMessage(BaseModel):
    """Each further line: one message of the protocol, as it passed, credentials masked."""

    model_config = ConfigDict(extra="allow", frozen=True)

    t: float = Field(ge=0, description="Seconds from the start.")
    session: int = Field(ge=1)
    dir: Literal["to_server", "to_client"]
    msg: dict[str, Any] = Field(description="JSON-RPC 2.0.")
