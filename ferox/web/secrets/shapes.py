"""What the interface of secrets takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

SecretState = Literal["env_file", "environment", "not_allowed", "not_set"]


class SecretLine(BaseModel):
    """A secret: where its value comes from, which files name it, and where it may go.

    `not_allowed`: Ferox's environment has a variable of that name, which nobody allowed to be read.
    """

    name: str
    state: SecretState
    named_in: list[str]
    may_go_to: list[str]


class SecretList(BaseModel):
    """Every secret that files name or `.env` holds, and the path of that file."""

    secrets: list[SecretLine]
    env_file: str


class SecretPath(BaseModel):
    """A secret's name in an address."""

    secret: str = Field(pattern=r"^[A-Za-z_][A-Za-z0-9_]*$", max_length=200)


class SecretValue(BaseModel):
    """A secret's value, on its way into `.env`."""

    value: str = Field(min_length=1, max_length=20_000)


class AgreeRequest(BaseModel):
    """A secret that may go to an address from now on."""

    secret: str
    to: str
