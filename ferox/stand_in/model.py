"""The stand-in: a simulated model that means to do something and picks tools by their words.

It keeps an agenda of intents for the request it heard. Which tool an intent becomes
is decided by likeness among the tools really offered; a manner makes it slip now and
then. Every decision is drawn by seed, intent and occasion, so the same trial slips in
the same way however it is scheduled.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from ferox.core.chance import draw, latency_s
from ferox.core.clock import Clock
from ferox.core.definitions import properties_of, required_of
from ferox.core.expressions import ExpressionError, render_value
from ferox.core.json_paths import find_nodes
from ferox.core.likeness import ToolWords, text_likeness
from ferox.core.value_sources import ValueSource
from ferox.formats.stand_in import Intent, Manner, StandInFile, Value
from ferox.intake.patterns import compile_pattern
from ferox.stand_in.conversation import Conversation, read_result
from ferox.stand_in.manners import manners_of
from ferox.stand_in.values import (
    NoValue,
    fit_type,
    made_up,
    mistype_value,
    place_values,
    resolve_value,
)

WITHOUT_RESULT = "I do not have what I need to answer that."
"""What it says where its words are about a result that never came."""
TOO_FAR = 0.12
"""Likeness below which no tool on offer is taken to do what is meant."""
LOOK_ALIKE = 0.28
"""The runner-up must be at least this part as like as the best to be mistaken for it."""
NO_SCENE = 0.2
"""Likeness below which a request is none that the stand-in knows how to go about."""
_REFUSAL = re.compile(r"(?i)^\s*(no\b|do not|don't|stop|leave it)")


@dataclass(frozen=True)
class ProposedCall:
    """A call that the model proposes, by the name it was offered under."""

    id: str
    name: str
    args: dict[str, Any]


@dataclass(frozen=True)
class Spoken:
    """What the model answers: words, or calls; `wait_s` is how long it thinks."""

    text: str | None
    calls: tuple[ProposedCall, ...] = ()
    wait_s: float = 0.0


@dataclass
class _Pending:
    """A proposed call whose result has not come yet."""

    call: ProposedCall
    step: Intent
    tries: int


@dataclass
class StandIn:
    """One trial's stand-in. `tools` of a request: name → (description, input schema)."""

    document: StandInFile
    manner_name: str
    seed: int
    clock: Clock
    _agenda: list[Intent] = field(default_factory=list)
    _results: dict[str, Any] = field(default_factory=dict)
    _pending: _Pending | None = None
    _heard: int = 0
    _asked: bool = False
    _looks_nothing_up: bool = False
    """The scene heeds instructions that it was not given."""
    _count: Counter[str] = field(default_factory=Counter)
    _words: tuple[frozenset[str], ToolWords] | None = None

    def __post_init__(self) -> None:
        self.manner: Manner = manners_of(self.document)[self.manner_name]

    def forget_conversation(self) -> None:
        """Begin a new conversation; only what is counted goes on."""
        self._agenda, self._results = [], {}
        self._pending, self._heard, self._asked = None, 0, False

    def answer(
        self, messages: list[dict[str, Any]], tools: Mapping[str, tuple[str, Any]]
    ) -> Spoken:
        """The next message of the assistant."""
        heard = Conversation.read(messages)
        self._count["requests"] += 1
        # By its own count, so that a trial's times do not depend on what runs beside it.
        wait = latency_s(self.document.latency, self.seed, "think", self._count["requests"])
        if self._pending:
            again = self._take_result(heard)
            if again:
                return Spoken(None, (again,), wait)
        elif len(heard.said) != self._heard:
            refused = self._take_words(heard)
            if refused:
                return Spoken(refused, (), wait)
        self._heard = len(heard.said)
        text, call = self._go_on(heard, tools)
        return Spoken(text, (call,) if call else (), wait)

    def _makes_slip(self, how: str, about: str) -> bool:
        chance: float = getattr(self.manner, how)
        return chance > 0 and draw(self.seed, how, about) < chance

    def _take_words(self, heard: Conversation) -> str | None:
        """Take in the user's new words: an answer to a question, or a new request."""
        words = heard.said[-1] if heard.said else ""
        if self._asked:
            self._asked = False
            if _REFUSAL.search(words):
                self._agenda = []
                return "Understood, I leave it as it is."
            return None
        ranked = sorted(
            # Of scenes that are equally near, the first.
            ((text_likeness(words, s.request), -i) for i, s in enumerate(self.document.scenes)),
            reverse=True,
        )
        near, place_ = ranked[0] if ranked else (0.0, 0)
        if near < NO_SCENE or not self.document.scenes[-place_].does:
            self._agenda = []
            return self.document.otherwise
        scene = self.document.scenes[-place_]
        self._agenda = list(scene.does)
        self._looks_nothing_up = scene.heeds is not None and not compile_pattern(
            scene.heeds
        ).is_found_in(heard.instructions)
        return None

    def _take_result(self, heard: Conversation) -> ProposedCall | None:
        """Read what the pending call brought; perhaps the same call comes again."""
        pending = self._pending
        assert pending is not None
        self._pending = None
        step, name = pending.step, pending.step.as_ or ""
        result = read_result(heard.results.get(pending.call.id, heard.tail))
        about = step.intent or ""
        if result.failed:
            if self._makes_slip("ignored_error", about):
                return None
            if pending.tries < step.retries:
                return self._propose_call(
                    pending.call.name, pending.call.args, step, pending.tries + 1
                )
            self._agenda = [*step.if_failed, *self._agenda]
            return None
        self._results[name] = result.value
        again = self._makes_slip("repeated_call", about) and pending.tries == 0
        if again or self._makes_slip("never_stops", about):
            return self._propose_call(pending.call.name, pending.call.args, step, pending.tries + 1)
        return None

    def _propose_call(
        self, name: str, args: dict[str, Any], step: Intent, tries: int
    ) -> ProposedCall:
        self._count["proposals"] += 1
        call = ProposedCall(f"p{self._count['proposals']}", name, args)
        self._pending = _Pending(call, step, tries)
        return call

    def _go_on(
        self, heard: Conversation, tools: Mapping[str, tuple[str, Any]]
    ) -> tuple[str | None, ProposedCall | None]:
        while self._agenda:
            step = self._agenda.pop(0)
            if step.each is not None:
                self._agenda = [*self._for_each(step), *self._agenda]
                continue
            if step.say is not None:
                if step.asks and self._makes_slip("no_confirmation", step.say):
                    continue
                self._asked = step.asks
                if not step.asks:
                    self._agenda = []
                return self._write_answer(step), None
            about = step.intent or ""
            forgets = self._looks_nothing_up or self._makes_slip("from_memory", about)
            if forgets and self._last_words() is not None:
                words = self._last_words()
                self._agenda = []
                return words, None
            if self._makes_slip("skipped_step", about):
                continue
            if self._agenda and self._agenda[0].intent and self._makes_slip("out_of_order", about):
                step, self._agenda[0] = self._agenda[0], step
            call = self._call_for(step, heard, tools)
            if call:
                return None, call
            if step.if_failed:
                self._agenda = [*step.if_failed, *self._agenda]
        return "That is all I can say.", None

    def _for_each(self, step: Intent) -> list[Intent]:
        """The step once for every item; one that is skipped is the last."""
        assert step.each is not None
        if step.each.from_ not in self._results:
            return []
        items = ValueSource.of_entry(step.each).nodes(self._results[step.each.from_])
        if self._makes_slip("skipped_step", f"{step.intent} each"):
            items = items[:-1]
        return [
            step.model_copy(update={"each": None, "values": _fill_in(step, item)}) for item in items
        ]

    def _last_words(self) -> str | None:
        """What the model would say at the end without having looked."""
        last = next((s for s in reversed(self._agenda) if s.from_memory), None)
        return last.from_memory if last else None

    def _write_answer(self, step: Intent) -> str:
        try:
            return str(render_value(step.say, {**self._results, "value_of": self._value_of}))
        except ExpressionError:
            # A result that it would speak of never came: it must not sound as if all were well.
            return step.from_memory or WITHOUT_RESULT

    def _value_of(self, name: str, path: str) -> Any:
        """What a path finds in an earlier result, several nodes as a list in words."""
        found = find_nodes(self._results.get(name), path)
        return found[0] if len(found) == 1 else ", ".join(map(str, found))

    def _call_for(
        self, step: Intent, heard: Conversation, tools: Mapping[str, tuple[str, Any]]
    ) -> ProposedCall | None:
        about = step.intent or ""
        chosen = self._choose_tool(about, tools)
        if chosen is None:
            return None
        schema = tools[chosen][1]
        args = self._write_arguments(step, schema, "\n".join(heard.said))
        name = _misremember_name(chosen) if self._makes_slip("unknown_tool", about) else chosen
        return self._propose_call(name, args, step, 0)

    def _choose_tool(self, intent: str, tools: Mapping[str, tuple[str, Any]]) -> str | None:
        key = frozenset(tools)
        if self._words is None or self._words[0] != key:
            self._words = (key, ToolWords(tools))
        ranked = self._words[1].ranked_tools(intent)
        if not ranked or ranked[0][0] < TOO_FAR:
            return None
        second = ranked[1] if len(ranked) > 1 else (0.0, "")
        # Only a tool that really looks alike is mistaken: wording is what is being tested.
        if second[0] >= LOOK_ALIKE * ranked[0][0] and self._makes_slip("look_alike", intent):
            return second[1]
        return ranked[0][1]

    def _write_arguments(self, step: Intent, schema: Any, said: str) -> dict[str, Any]:
        properties = properties_of(schema)
        values: dict[str, Any] = {}
        for name, value in step.values.items():
            try:
                values[name] = resolve_value(value, said, self._results, self.clock)
            except NoValue:
                guess = value.guess
                shape = properties.get(name)
                values[name] = (
                    made_up(shape, name, self.clock, self.seed) if guess is None else guess
                )
        args = {k: fit_type(v, properties.get(k)) for k, v in place_values(values, schema).items()}
        for name in required_of(schema):
            if name not in args:
                args[name] = made_up(properties.get(name), name, self.clock, self.seed)
        return self._slip_arguments(args, step.intent or "")

    def _slip_arguments(self, args: dict[str, Any], about: str) -> dict[str, Any]:
        names = sorted(args)
        if names:
            one = names[int(draw(self.seed, "which", about) * len(names))]
            if self._makes_slip("missing_argument", about):
                args = {k: v for k, v in args.items() if k != one}
            elif self._makes_slip("mistyped_argument", about):
                args = {**args, one: mistype_value(args[one], self.seed, one)}
        if self._makes_slip("extra_argument", about):
            args = {**args, "priority": "high"}
        return args


def _fill_in(step: Intent, item: Any) -> dict[str, Value]:
    """A step's values with those of one item filled in."""
    return {
        name: value
        if value.item is None
        else Value(constant=next(iter(find_nodes(item, value.item)), value.guess))
        for name, value in step.values.items()
    }


def _misremember_name(name: str) -> str:
    """A name that sounds right and is not on offer."""
    verbs = {"find": "search", "list": "get_all", "assign": "book", "draft": "write", "check": "is"}
    head, _, rest = name.partition("_")
    return f"{verbs[head]}_{rest}" if head in verbs and rest else f"get_{name}"
