"""A mocked tool server: rules, a state private to each trial, and nothing of the wire."""

from __future__ import annotations

import asyncio
import copy
import json
from collections import Counter
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Any, NamedTuple

import jsonpatch
from mcp.shared.uri_template import InvalidUriTemplate, UriTemplate

from ferox.core.chance import draw, latency_s
from ferox.core.expressions import ExpressionError, condition_holds, render_value
from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.matcher import ABSENT, MatchContext
from ferox.core.matchers import compile_matcher
from ferox.formats.server import (
    Change,
    Latency,
    Mock,
    MockAnswer,
    MockNotification,
    MockResource,
    MockTool,
)
from ferox.formats.suite import Given
from ferox.intake.limits import GivenUp, Limits, check_value
from ferox.servers.sources.source import (
    Caller,
    ClientQuestion,
    Definition,
    ProtocolRefusal,
    QuestionAnswer,
    ServerQuestion,
    ToolOutput,
    UnknownTool,
    failed_output,
)

LARGEST_STATE = Limits(max_nodes=200_000)
"""What a mock's state may grow to in a trial."""
NO_RULE = "no answer of this mock fits these arguments"


NO_RESOURCE, INVALID, INTERNAL = -32002, -32602, -32603


class MockOutput(NamedTuple):
    """What a mocked call gives, and what the client hears before it."""

    answer: ToolOutput | ClientQuestion
    tells: list[MockNotification] = []


async def _asked_elicitation(question: ClientQuestion, caller: Caller) -> ToolOutput:
    """Put a question to the client or its model, and go on with what comes back."""
    if question.max_tokens is None:
        asked = ServerQuestion(question.message, question.schema, question.url)
        return question.go_on(await caller.ask_question(asked))
    content = {"type": "text", "text": question.message}
    params = {
        "messages": [{"role": "user", "content": content}],
        "maxTokens": question.max_tokens,
    }
    try:
        said = await caller.sample(params)
    except ProtocolRefusal as error:
        return failed_output(f"The client's model was not asked: {error.message}")
    found = said.get("content") or {}
    text = found.get("text", "") if isinstance(found, dict) else ""
    return question.go_on(QuestionAnswer("accept", {"text": text}))


def _listed_resource(resource: MockResource) -> dict[str, Any]:
    return resource.model_dump(exclude_none=True, exclude={"text", "blob"})


def _listed_prompt(prompt: dict[str, Any]) -> dict[str, Any]:
    arguments = [
        {k: v for k, v in a.items() if k != "values" and v is not None} for a in prompt["arguments"]
    ]
    prompt_body = {k: prompt[k] for k in ("name", "title", "description") if prompt[k] is not None}
    return {**prompt_body, "arguments": arguments}


@lru_cache(maxsize=512)
def _parse_template(text: str) -> UriTemplate:
    return UriTemplate.parse(text)


def _match_template(template: str, uri: str) -> dict[str, Any] | None:
    """The values that make a template this URI; None if none do."""
    try:
        return dict(found) if (found := _parse_template(template).match(uri)) is not None else None
    except InvalidUriTemplate:  # the workspace's check has said so
        return None


@dataclass
class MockServer:
    """One trial's copy of a mock.

    `now` is the trial's clock as RFC 3339; everything random comes from `seed`.
    """

    name: str
    mock: Mock
    seed: int
    match_context: MatchContext
    given: Given = field(default_factory=Given)

    def __post_init__(self) -> None:
        # The file is read once for many trials; what one changes no other may see.
        self.state: dict[str, Any] = copy.deepcopy(self.mock.state)
        self.info = {"name": self.name, "version": "1"}
        self.instructions = self.mock.instructions
        self._specs = {tool.name: tool for tool in self.mock.tools}
        self._turns: Counter[int] = Counter()
        self._ids: Counter[str] = Counter()
        self._calls: Counter[str] = Counter()
        self._apply_changes(self.given.change, self._template_names({}, 0, 0))

    def _template_names(self, args: dict[str, Any], number: int, of_tool: int) -> dict[str, Any]:
        return {
            "args": args,
            "state": self.state,
            "now": self.match_context.clock.now,
            "today": self.match_context.clock.today.isoformat(),
            "call": {"number": number, "of_tool": of_tool},
            "new_id": self._new_id,
            "chance": lambda *words: draw(self.seed, self.name, *words),
        }

    def _new_id(self, prefix: str) -> str:
        """An identifier that no other of this trial has: `BK1041` and so on."""
        self._ids[prefix] += 1
        return f"{prefix}{1040 + self._ids[prefix]}"

    @cached_property
    def tools(self) -> dict[str, Definition]:
        """Name → tool, as the protocol writes it."""
        return {tool.name: tool.definition() for tool in self.mock.tools}

    @property
    def methods(self) -> frozenset[str]:
        """What the mock answers besides calls."""
        methods = set()
        if self.mock.resources:
            methods |= {"resources/list", "resources/templates/list", "resources/read"}
            methods |= {"resources/subscribe", "resources/unsubscribe"}
        if self.mock.prompts:
            methods |= {"prompts/list", "prompts/get", "completion/complete"}
        if any(rule.tell for tool in self.mock.tools for rule in tool.answers):
            methods.add("logging/setLevel")
        return frozenset(methods)

    async def call(self, tool: str, args: dict[str, Any], caller: Caller) -> ToolOutput:
        """Answer a call and change the state. The caller waits `wait_s` by itself.

        Raises:
            UnknownTool: the mock does not offer the tool.
        """
        # Worked out at once, and told afterwards: calls side by side see each other's changes in
        # the order in which they came, whatever their answers wait for.
        given = self.answer_call(tool, args)
        for tell in given.tells:
            await asyncio.sleep(tell.after_ms / 1000)
            if tell.progress is not None:
                await caller.progress(tell.progress, tell.total, tell.text)
            if tell.log is not None:
                await caller.log(tell.log, tell.text)
        if isinstance(given.answer, ClientQuestion):
            return await _asked_elicitation(given.answer, caller)
        return given.answer

    def answer_call(self, tool: str, args: dict[str, Any]) -> MockOutput:
        """What a call gives, or the question that must be asked first.

        Raises:
            UnknownTool: the mock does not offer the tool.
        """
        if tool not in self._specs:
            raise UnknownTool(tool)
        spec = self._specs[tool]
        self._calls[tool] += 1
        number, of_tool = self._calls.total(), self._calls[tool]
        wait = self._latency_s(spec.latency, tool, of_tool)
        try:
            fault = schema_of(spec.input).find_fault(args)
        except (UnusableSchema, GivenUp) as error:
            return MockOutput(self._broken_template(tool, error, wait))
        if fault:
            where = f"{fault.path.removeprefix('$.')}: " if fault.path != "$" else ""
            return MockOutput(
                failed_output(f"Invalid arguments for {tool}: {where}{fault.message}", wait)
            )
        names = self._template_names(args, number, of_tool)
        try:
            return self._answer_by_rule(spec, args, names, wait)
        except (ExpressionError, jsonpatch.JsonPatchException, ValueError) as error:
            return MockOutput(self._broken_template(tool, error, wait))

    def _broken_template(self, tool: str, error: Exception, wait: float) -> ToolOutput:
        return failed_output(f"mock of {self.name}/{tool} is broken: {error}", wait)

    async def look_up(self, tool: str, args: dict[str, Any]) -> ToolOutput:
        """Answer a call as `call` does, but leave no trace of it in the mock.

        Raises:
            UnknownTool: the mock does not offer the tool.
        """
        aside = copy.copy(self)
        aside.state = copy.deepcopy(self.state)
        aside._turns, aside._ids = Counter(self._turns), Counter(self._ids)
        # A truth is what the mock itself would say, not what the task put before it.
        aside._calls, aside.given = Counter(), Given()
        answer = aside.answer_call(tool, args).answer
        return (
            answer.go_on(QuestionAnswer("not_asked", {}))
            if isinstance(answer, ClientQuestion)
            else answer
        )

    async def request(self, method: str, params: dict[str, Any]) -> dict[str, Any]:
        """Resources, prompts and completions.

        Raises:
            ProtocolRefusal: there is no such resource or prompt.
        """
        match method:
            case "resources/list":
                return {"resources": [_listed_resource(r) for r in self.mock.resources if r.uri]}
            case "resources/templates/list":
                families = [_listed_resource(r) for r in self.mock.resources if r.uriTemplate]
                return {"resourceTemplates": families}
            case "resources/read":
                return self._read_resource(str(params.get("uri")))
            case "prompts/list":
                return {"prompts": [_listed_prompt(p.model_dump()) for p in self.mock.prompts]}
            case "prompts/get":
                return self._fill_prompt(str(params.get("name")), params.get("arguments") or {})
            case "completion/complete":
                return self._complete_argument(params)
            case _:
                return {}

    def _read_resource(self, uri: str) -> dict[str, Any]:
        for resource in self.mock.resources:
            args = {} if resource.uri == uri else _match_template(resource.uriTemplate or "", uri)
            if args is None or (resource.uri and resource.uri != uri):
                continue
            content: dict[str, Any] = {"uri": uri}
            if resource.mimeType:
                content["mimeType"] = resource.mimeType
            names = self._template_names(dict(args), 0, 0)
            if resource.blob is not None:
                return {"contents": [{**content, "blob": resource.blob}]}
            text = self._render_content(resource.text, names)
            given = text if isinstance(text, str) else json.dumps(text, ensure_ascii=False)
            return {"contents": [{**content, "text": given}]}
        raise ProtocolRefusal(NO_RESOURCE, f"no resource {uri}")

    def _fill_prompt(self, name: str, args: dict[str, Any]) -> dict[str, Any]:
        prompt = next((p for p in self.mock.prompts if p.name == name), None)
        if prompt is None:
            raise ProtocolRefusal(INVALID, f"no prompt {name}")
        missing = [a.name for a in prompt.arguments if a.required and a.name not in args]
        if missing:
            raise ProtocolRefusal(INVALID, f"{name} needs {', '.join(missing)}")
        given = {a.name: "" for a in prompt.arguments} | args
        names = self._template_names(given, 0, 0)
        messages = []
        for message in prompt.messages:
            content = self._render_content(message.content, names)
            if isinstance(content, str):
                content = {"type": "text", "text": content}
            messages.append({"role": message.role, "content": content})
        head = {"description": prompt.description} if prompt.description else {}
        return {**head, "messages": messages}

    def _render_content(self, value: Any, names: dict[str, Any]) -> Any:
        try:
            return render_value(value, names)
        except ExpressionError as error:
            raise ProtocolRefusal(INTERNAL, f"mock of {self.name} is broken: {error}") from None

    def _complete_argument(self, params: dict[str, Any]) -> dict[str, Any]:
        wanted = params.get("argument") or {}
        prompt = next(
            (p for p in self.mock.prompts if p.name == (params.get("ref") or {}).get("name")), None
        )
        values = [
            value
            for argument in (prompt.arguments if prompt else ())
            if argument.name == wanted.get("name")
            for value in argument.values
            if value.casefold().startswith(str(wanted.get("value", "")).casefold())
        ]
        completion = {"values": values[:100], "total": len(values), "hasMore": len(values) > 100}
        return {"completion": completion}

    def _latency_s(self, latency: Latency | None, tool: str, of_tool: int) -> float:
        return latency_s(latency, self.seed, "latency", self.name, tool, of_tool)

    def _answer_by_rule(
        self, spec: MockTool, args: dict[str, Any], names: dict[str, Any], wait: float
    ) -> MockOutput:
        for rule in [*self.given.answers.get(spec.name, []), *spec.answers]:
            if self._rule_fits(rule, args, names):
                if rule.latency:
                    wait = self._latency_s(rule.latency, spec.name, names["call"]["of_tool"])
                if rule.ask or rule.sample:
                    return MockOutput(self._make_question(spec, rule, names, wait), rule.tell)
                return MockOutput(self._give_result(spec, rule, names, wait), rule.tell)
        return MockOutput(failed_output(f"{spec.name}: {NO_RULE}", wait))

    def _make_question(
        self, spec: MockTool, rule: MockAnswer, names: dict[str, Any], wait: float
    ) -> ClientQuestion:
        words = rule.ask.message if rule.ask else rule.sample.say if rule.sample else ""
        message = str(render_value(words, names))

        def go_on(asked: QuestionAnswer) -> ToolOutput:
            if asked.action in ("decline", "cancel"):
                return failed_output(f"{message} The user did not say yes ({asked.action}).", wait)
            known = {**names, "asked": {"action": asked.action, **asked.content}}
            known["sampled"] = asked.content.get("text", "")
            try:
                return self._give_result(spec, rule, known, wait)
            except (ExpressionError, jsonpatch.JsonPatchException, ValueError) as error:
                return self._broken_template(spec.name, error, wait)

        if rule.ask:
            url = None if rule.ask.url is None else str(render_value(rule.ask.url, names))
            return ClientQuestion(message, rule.ask.schema_, go_on, url)
        most = rule.sample.max_tokens if rule.sample else 100
        return ClientQuestion(message, {}, go_on, max_tokens=most)

    def _rule_fits(self, rule: MockAnswer, args: dict[str, Any], names: dict[str, Any]) -> bool:
        if rule.if_ is not None and not condition_holds(rule.if_, names):
            return False
        return all(
            compile_matcher(spec).holds_for(args.get(name, ABSENT), self.match_context)
            for name, spec in (rule.when or {}).items()
        )

    def _give_result(
        self, spec: MockTool, rule: MockAnswer, names: dict[str, Any], wait: float
    ) -> ToolOutput:
        if rule.error is not None:
            return failed_output(str(render_value(rule.error, names)), wait)
        if rule.content is not None:
            given: Any = None
            content = render_value(rule.content, names)
        else:
            given = copy.deepcopy(render_value(self._choose_answer(rule), names))
            text = given if isinstance(given, str) else json.dumps(given, ensure_ascii=False)
            content = [{"type": "text", "text": text}]
        self._apply_changes(rule.change, {**names, "given": given})
        structured = given if isinstance(given, dict) and spec.output is not None else None
        return ToolOutput(content, structured, False, wait)

    def _choose_answer(self, rule: MockAnswer) -> Any:
        if rule.give_in_turn is None:
            return rule.give
        # By identity: two rules may be alike, and each has a turn of its own.
        place = min(self._turns[id(rule)], len(rule.give_in_turn) - 1)
        self._turns[id(rule)] += 1
        return rule.give_in_turn[place]

    def _apply_changes(self, changes: list[Change], names: dict[str, Any]) -> None:
        if not changes:
            return
        patch = [
            {
                k: render_value(v, names)
                for k, v in c.model_dump(by_alias=True, exclude_unset=True).items()
            }
            for c in changes
        ]
        state = copy.deepcopy(self.state)
        for change in patch:  # one by one, for each may copy the whole
            state = jsonpatch.apply_patch(state, [change], in_place=True)
            check_value(state, LARGEST_STATE)
        self.state = state
