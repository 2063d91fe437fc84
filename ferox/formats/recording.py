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


class ModelRecordingHeader(BaseModel):
    """The first line of a model's recording. A reader ignores what it does not know."""

    model_config = ConfigDict(extra="allow", frozen=True)

    ferox_model_recording: Literal[1] = Field(description="Version of the format; always 1.")
    model: str = Field(description="The endpoint's name of the model.")
    captured_at: str = Field(description="RFC 3339.")


class ModelExchange(BaseModel):
    """Each further line: a request to the model and its answer, credentials masked."""

    model_config = ConfigDict(extra="allow", frozen=True)

    path: str = Field(description="`chat/completions`, `responses` or `embeddings`.")
    request: dict[str, Any] = Field(description="The body; it is found again by this.")
    status: int = 200
    answer: str = Field(description="The body, or the lines of its event stream.")
    s: float = Field(ge=0, description="Seconds that it took.")
    first_s: float | None = Field(None, description="Seconds to the first piece of a stream.")
