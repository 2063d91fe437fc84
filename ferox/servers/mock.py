"""A mocked tool server: rules, a state private to each trial, and nothing of the wire."""

from __future__ import annotations

import copy
import json
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

import jsonpatch
from jsonschema import Draft202012Validator
from jsonschema.exceptions import best_match

from ferox.core.chance import draw, latency_s
from ferox.core.expressions import ExpressionError, holds, render
from ferox.core.matchers import ABSENT, Situation, compile_matcher
from ferox.formats.server import Answer, Change, Latency, Mock, MockTool
from ferox.formats.suite import Given

NO_RULE = "no answer of this mock fits these arguments"


class UnknownTool(LookupError):
    """A call of a tool that the mock does not offer."""


@dataclass(frozen=True)
class Answered:
    """What a mocked tool gives: content blocks as MCP has them, and perhaps structure.

    `wait_s` is how long the answer is to take, in seconds.
    """

    content: list[dict[str, Any]]
    structured: Any = None
    is_error: bool = False
    wait_s: float = 0.0

    @property
    def error(self) -> str | None:
        """What it says went wrong; None if nothing did."""
        return str(self.content[0].get("text", "")) if self.is_error else None

    @property
    def value(self) -> Any:
        """The result as a trace holds it: structure, else text parsed as JSON, else text."""
        if self.structured is not None:
            return self.structured
        text = "\n".join(c["text"] for c in self.content if c.get("type") == "text")
        try:
            return json.loads(text)
        except ValueError:
            return text


def _error(text: str, wait_s: float = 0.0) -> Answered:
    return Answered([{"type": "text", "text": text}], is_error=True, wait_s=wait_s)


@dataclass
class MockServer:
    """One trial's copy of a mock.

    `now` is the trial's clock as RFC 3339; everything random comes from `seed`.
    """

    name: str
    mock: Mock
    seed: int
    situation: Situation
    given: Given = field(default_factory=Given)

    def __post_init__(self) -> None:
        self.state: dict[str, Any] = copy.deepcopy(self.mock.state)
        self.tools = {tool.name: tool for tool in self.mock.tools}
        self._validators = {t.name: Draft202012Validator(t.input) for t in self.mock.tools}
        self._turns: Counter[int] = Counter()
        self._ids: Counter[str] = Counter()
        self._calls: Counter[str] = Counter()
        self._apply(self.given.change, self._names({}, 0, 0))

    def _names(self, args: dict[str, Any], number: int, of_tool: int) -> dict[str, Any]:
        return {
            "args": args,
            "state": self.state,
            "now": self.situation.clock.now,
            "today": self.situation.clock.today.isoformat(),
            "call": {"number": number, "of_tool": of_tool},
            "new_id": self._new_id,
            "chance": lambda *words: draw(self.seed, self.name, *words),
        }

    def _new_id(self, prefix: str) -> str:
        """An identifier that no other of this trial has: `BK1041` and so on."""
        self._ids[prefix] += 1
        return f"{prefix}{1040 + self._ids[prefix]}"

    def call(self, tool: str, args: dict[str, Any]) -> Answered:
        """Answer a call and change the state.

        Raises:
            UnknownTool: the mock does not offer the tool.
        """
        if tool not in self.tools:
            raise UnknownTool(tool)
        spec = self.tools[tool]
        self._calls[tool] += 1
        number, of_tool = self._calls.total(), self._calls[tool]
        wait = self._wait(spec.latency, tool, of_tool)
        fault = best_match(self._validators[tool].iter_errors(args))
        if fault:
            where = f"{fault.json_path.removeprefix('$.')}: " if fault.path else ""
            return _error(f"Invalid arguments for {tool}: {where}{fault.message}", wait)
        names = self._names(args, number, of_tool)
        try:
            return self._answer(spec, args, names, wait)
        except (ExpressionError, jsonpatch.JsonPatchException, ValueError) as error:
            return _error(f"mock of {self.name}/{tool} is broken: {error}", wait)

    def look_up(self, tool: str, args: dict[str, Any]) -> Answered:
        """Answer a call as `call` does, but leave no trace of it in the mock."""
        aside = copy.copy(self)
        aside.state = copy.deepcopy(self.state)
        aside._turns, aside._ids = Counter(self._turns), Counter(self._ids)
        aside._calls, aside.given = Counter(), Given()
        return MockServer.call(aside, tool, args)

    def _wait(self, latency: Latency | None, tool: str, of_tool: int) -> float:
        return latency_s(latency, self.seed, "latency", self.name, tool, of_tool)

    def _answer(
        self, spec: MockTool, args: dict[str, Any], names: dict[str, Any], wait: float
    ) -> Answered:
        for rule in [*self.given.answers.get(spec.name, []), *spec.answers]:
            if self._fits(rule, args, names):
                if rule.latency:
                    wait = self._wait(rule.latency, spec.name, names["call"]["of_tool"])
                return self._give(spec, rule, names, wait)
        return _error(f"{spec.name}: {NO_RULE}", wait)

    def _fits(self, rule: Answer, args: dict[str, Any], names: dict[str, Any]) -> bool:
        if rule.if_ is not None and not holds(rule.if_, names):
            return False
        return all(
            compile_matcher(spec).holds(args.get(name, ABSENT), self.situation)
            for name, spec in (rule.when or {}).items()
        )

    def _give(self, spec: MockTool, rule: Answer, names: dict[str, Any], wait: float) -> Answered:
        if rule.error is not None:
            return _error(str(render(rule.error, names)), wait)
        if rule.content is not None:
            given: Any = None
            content = render(rule.content, names)
        else:
            given = copy.deepcopy(render(self._chosen(rule), names))
            text = given if isinstance(given, str) else json.dumps(given, ensure_ascii=False)
            content = [{"type": "text", "text": text}]
        self._apply(rule.change, {**names, "given": given})
        structured = given if isinstance(given, dict) else None
        return Answered(content, structured, False, wait)

    def _chosen(self, rule: Answer) -> Any:
        if rule.give_in_turn is None:
            return rule.give
        place = min(self._turns[id(rule)], len(rule.give_in_turn) - 1)
        self._turns[id(rule)] += 1
        return rule.give_in_turn[place]

    def _apply(self, changes: list[Change], names: dict[str, Any]) -> None:
        if not changes:
            return
        patch = [
            {
                k: render(v, names)
                for k, v in c.model_dump(by_alias=True, exclude_unset=True).items()
            }
            for c in changes
        ]
        self.state = jsonpatch.apply_patch(self.state, patch)
