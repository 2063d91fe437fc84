"""Code in place of calls: for an agent whose model is told its tools as Python functions.

Such an agent's requests define no tools. Their instructions hold a stub of each function, and
say between which marks code must stand; what the code printed comes back as an observation.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

from ferox.stand_in.conversation import text_of

REPLY = "final_answer"
"""The function by which such an agent replies."""
_STUB = re.compile(r'^def (\w{1,80})\(([^()\n]{0,2000})\)[^\n]*:\n\s*"""(.*?)"""', re.M | re.S)
_MARKS = re.compile(r"opened with '([^'\n]{1,40})', and closed with '([^'\n]{1,40})'")
_PRINTED = re.compile(
    r"(?s)Execution logs:\n(.*?)\n?(?:Last output from code snippet:\n.*?)?(?=\nNew task:\n|\Z)"
)
_ARGUMENTS = re.compile(r"\n[ \t]*Args:\n")
_TYPES = ("string", "number", "integer", "boolean", "array", "object")

Tools = dict[str, tuple[str, Any]]


@dataclass(frozen=True)
class CodeWriting:
    """The tools of an agent that acts by code, and the marks between which code stands."""

    tools: Tools
    opening: str
    closing: str

    @classmethod
    def asked_for(cls, messages: list[dict[str, Any]]) -> CodeWriting | None:
        """What the instructions of a request ask for; None if they do not ask for code."""
        system = "\n".join(text_of(m.get("content")) for m in messages if m.get("role") == "system")
        marks = _MARKS.search(system)
        stubs = {name: (description, given) for name, given, description in _STUB.findall(system)}
        if marks is None or REPLY not in stubs:
            return None
        tools = {
            name: (_ARGUMENTS.split(description)[0].strip(), _schema_of(given))
            for name, (description, given) in stubs.items()
            if name != REPLY
        }
        return cls(tools, marks[1], marks[2])

    def message_history(self, messages: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """The messages with what code printed as plain observations."""
        return [
            {**m, "content": _PRINTED.sub(r"\1", text_of(m.get("content")))}
            if m.get("role") == "user"
            else m
            for m in messages
        ]

    def write_message(self, text: str | None, calls: list[tuple[str, dict[str, Any]]]) -> str:
        """Words, or calls, as the agent wants them: a thought and code."""
        if not calls:
            thought, lines = "I can answer now.", [f"{REPLY}({text or ''!r})"]
        else:
            thought, lines = "I look it up.", []
            for name, args in calls:
                given = ", ".join(f"{key}={value!r}" for key, value in args.items())
                lines += [f"result = {name}({given})", "print(result)"]
        code = "\n".join(lines)
        return f"Thought: {thought}\n{self.opening}\n{code}\n{self.closing}"


def _schema_of(given: str) -> Any:
    """The schema of a stub's arguments; which of them are required it does not tell."""
    properties = {}
    for part in given.split(","):
        name, _, kind = (word.strip() for word in part.partition(":"))
        if name:
            properties[name] = {"type": kind} if kind in _TYPES else {}
    return {"type": "object", "properties": properties}
