"""Handlers, typed from request to answer: their types are the interface's document."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, wraps
from typing import Any, ParamSpec, TypeVar, get_type_hints

from flask_openapi3.blueprint import APIBlueprint
from pydantic import BaseModel

from ferox.web.shapes import ErrorMessage

REFUSALS: dict[int, str] = {
    401: "A token is asked for",
    403: "Another site, another host, or a link that only looks",
    404: "There is nothing of that name",
    405: "The address takes other methods: see `Allow`",
    409: "It stands against what is there now",
    413: "The body is too large",
    415: "The body is not JSON",
    422: "The request is not as this document says, or what it names cannot be used",
    500: "A fault of Ferox's own, by its number",
    502: "A server or an agent cannot be reached",
    503: "The results or a file cannot be read or written",
}
"""Answers that any operation may give, each with a message."""


def refusal_answers() -> dict[Any, Any]:
    """What the document says of each refusal. Given the model instead, the library would make its
    schema anew for each of a thousand."""
    reference = {"$ref": f"#/components/schemas/{ErrorMessage.__name__}"}
    return {status: {"content": {"application/json": {"schema": reference}}} for status in REFUSALS}


Fields = ParamSpec("Fields")
Answer = TypeVar("Answer", bound=BaseModel)
Handler = Callable[[Callable[Fields, Answer]], Callable[Fields, Answer]]


class Routes:
    """The handlers of one place. Each takes models of its path, query and body, and returns one."""

    def __init__(self, name: str) -> None:
        self._name = name
        self._handlers: list[tuple[str, str, int, Callable[..., BaseModel]]] = []

    def get(self, rule: str) -> Handler[..., Any]:
        """A handler that only reads."""
        return self._add_handler("get", rule, 200)

    def post(self, rule: str, *, status: int = 200) -> Handler[..., Any]:
        """A handler that does something."""
        return self._add_handler("post", rule, status)

    def put(self, rule: str) -> Handler[..., Any]:
        """A handler that writes what it is given."""
        return self._add_handler("put", rule, 200)

    def _add_handler(self, method: str, rule: str, status: int) -> Handler[..., Any]:
        def register(handle: Callable[Fields, Answer]) -> Callable[Fields, Answer]:
            self._handlers.append((method, rule, status, handle))
            return handle

        return register

    @cached_property
    def blueprint(self) -> APIBlueprint:
        """The handlers as they are served."""
        return self._make_blueprint(is_documented=False)

    def documented(self) -> APIBlueprint:
        """The handlers with what the interface's document says of them: that takes so long to make
        that a start of Ferox does without it."""
        return self._make_blueprint(is_documented=True)

    def _make_blueprint(self, *, is_documented: bool) -> APIBlueprint:
        made = APIBlueprint(
            self._name, __name__, abp_responses=refusal_answers(), doc_ui=is_documented
        )
        for method, rule, status, handle in self._handlers:
            # The handler's return type is the schema of its answer.
            answer = get_type_hints(handle)["return"]
            add = getattr(made, method)
            add(rule, responses={status: answer})(_with_status(handle, status))
        return made


def _with_status(
    handle: Callable[Fields, Answer], status: int
) -> Callable[Fields, tuple[Answer, int]]:
    @wraps(handle)
    def with_status(*args: Fields.args, **kwargs: Fields.kwargs) -> tuple[Answer, int]:
        return handle(*args, **kwargs), status

    return with_status
