"""A stand-in that carries out a suite's expectations, so that the suite runs without a model.

It is a file to go on from: what a script leaves open is filled in plainly, and told.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from ferox.core.clock import REAL, Clock, real_now
from ferox.core.definitions import description_of, properties_of
from ferox.core.json_paths import PathError
from ferox.core.likeness import ToolWords
from ferox.core.matcher import MatchContext, MatcherError
from ferox.core.matchers import compile_matcher, is_matcher
from ferox.core.script import named_steps
from ferox.core.value_sources import KEYS, is_source
from ferox.core.writings import stands_in
from ferox.formats.suite import (
    AnswerCheck,
    Expect,
    ExpectedCall,
    Suite,
    Task,
    TruthLookup,
    UserRule,
)
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern
from ferox.making.fitting_words import fitting_words
from ferox.making.samples import sample_value

Definition = Mapping[str, Any]
_PLAIN_STEP = re.compile(r"\.([A-Za-z_]\w*)|\[(\d+)\]")
_METHODS = frozenset(dir(dict))


@dataclass
class MadeStandIn:
    """A stand-in's document, and what its maker could not know: a line each."""

    document: dict[str, Any]
    notes: list[str] = field(default_factory=list)


@dataclass(frozen=True)
class _Script:
    """One part of a task: the user's words, the rules that answer, what is expected."""

    say: str
    user: Sequence[UserRule]
    expect: Expect
    truth: Mapping[str, TruthLookup]
    earlier: frozenset[str] = frozenset()
    """Calls of the parts before it in the same conversation, whose results are still there."""

    @property
    def all_said(self) -> str:
        """Everything that the user may say."""
        return "\n".join((self.say, *(rule.say for rule in self.user)))


def stand_in_of_suite(suite: Suite, tools: Mapping[str, Definition]) -> MadeStandIn:
    """A stand-in for a suite. `tools` are the definitions of its servers' tools by address, as
    far as they are known; `own/…` tools are none that a model is offered by Ferox."""
    return _Maker(suite, tools).make()


class _Maker:
    def __init__(self, suite: Suite, tools: Mapping[str, Definition]) -> None:
        self._suite = suite
        self._tools = tools
        self._clock = Clock(real_now() if suite.clock == REAL else suite.clock, suite.zone)
        self._words = ToolWords(
            {a: (description_of(dict(t)), t.get("inputSchema")) for a, t in tools.items()}
        )
        self._notes: list[str] = []
        self._task = ""

    def make(self) -> MadeStandIn:
        scenes: dict[str, dict[str, Any]] = {}
        for task in self._suite.tasks:
            self._task = task.task
            for script in _scripts_of(task):
                if script.say in scenes:
                    self._note("begins with the words of another task: that one's scene is played")
                    continue
                scenes[script.say] = {"request": script.say, "does": self._scene(script)}
        document = {
            "ferox": 1,
            "stand_in": self._suite.suite,
            "title": f"A simulated model that carries out {self._suite.suite}",
            "scenes": list(scenes.values()),
        }
        return MadeStandIn(document, self._notes)

    def _note(self, words: str) -> None:
        self._notes.append(f"{self._task}: {words}")

    def _scene(self, script: _Script) -> list[dict[str, Any]]:
        expect = _first_way(script.expect)
        steps: list[dict[str, Any]] = []
        asked: set[int] = set()
        for call in _in_order(expect):
            for number in self._asks_before(call, script):
                if number not in asked:
                    asked.add(number)
                    steps += self._question(script, number)
            times = call.times if isinstance(call.times, int) else call.times and call.times.min
            steps += [self._call_step(call, script, expect)] * max(1, times or 1)
        steps.append({"say": self._answer(script, expect)})
        return steps

    # What the user is asked.

    def _asks_before(self, call: ExpectedCall, script: _Script) -> list[int]:
        """The rules, by number, whose answer a call needs: its go-ahead, and values in it."""
        needed = []
        for number, rule in enumerate(script.user):
            grants = call.after_grant is not None and rule.grants == call.after_grant
            if grants or any(
                self._says_only(rule, value, script)
                for wanted in call.args.values()
                for value in _plain_values(wanted)
            ):
                needed.append(number)
        return needed

    def _says_only(self, rule: UserRule, value: Any, script: _Script) -> bool:
        """Whether a value stands in a rule's words, and not in the user's first."""
        if isinstance(value, bool) or not isinstance(value, str | int | float):
            return False
        return stands_in(value, rule.say, self._clock.tz) and not stands_in(
            value, script.say, self._clock.tz
        )

    def _question(self, script: _Script, number: int) -> list[dict[str, Any]]:
        rule = script.user[number]
        words = fitting_words(rule.if_reply.matches)
        if words is None:
            self._note(f"write what it asks: no words were found for /{rule.if_reply.matches}/")
            return []
        first = next((i for i, other in enumerate(script.user) if _fits(other, words)), number)
        if first != number:
            self._note(f"“{words}” is answered by rule {first + 1}, not by rule {number + 1}")
        return [{"say": words, "asks": True}]

    # What it calls.

    def _call_step(self, call: ExpectedCall, script: _Script, expect: Expect) -> dict[str, Any]:
        step: dict[str, Any] = {"as": call.name, "intent": self._intent(call.tool)}
        schema = properties_of(self._tools.get(call.tool, {}).get("inputSchema"))
        values = {}
        for name, wanted in call.args.items():
            value = self._value(wanted, schema.get(name), script, f"{call.name}.{name}")
            if value is not None:
                values[name] = value
        if call.each is not None:
            source = self._source(call.each.from_, script)
            if source is None:
                self._note(f"{call.name}: write where its items come from")
            else:
                entry = call.each.model_dump(by_alias=True, exclude_none=True, exclude={"arg"})
                step["each"] = {**entry, "from": source}
                values[call.each.arg] = {"item": "$"}
        if values:
            step["values"] = values
        step["if_failed"] = self._if_failed(values, expect)
        return step

    def _intent(self, address: str) -> str:
        """Words for a tool that are likest to it, the shortest that will do."""
        tool = address.partition("/")[2].replace("_", " ").replace("-", " ")
        description = description_of(dict(self._tools.get(address, {})))
        first = re.split(r"(?<=[.!?])\s", description.strip(), maxsplit=1)[0].rstrip(".")
        options = [tool, f"{tool}: {first}", f"{tool}: {' '.join(description.split())}"]
        if address not in self._tools:
            self._note(f"{address}: its words are not known yet; look at its server once")
            return tool
        for words in options:
            ranked = self._words.ranked_tools(words)
            if ranked[0][1] == address and (len(ranked) < 2 or ranked[1][0] < ranked[0][0]):
                return words
        self._note(f"{address}: by its words it cannot be told from {ranked[0][1]}")
        return options[1]

    def _if_failed(self, values: dict[str, Any], expect: Expect) -> list[dict[str, Any]]:
        steps: list[dict[str, Any]] = []
        failures = expect.failures
        for tool in failures.recovers.by if failures.recovers else []:
            if tool in self._tools:
                steps.append({"intent": self._intent(tool), "values": values})
        words = fitting_words(failures.tells_user) if failures.tells_user else None
        return [*steps, {"say": words or "That did not work, so I cannot tell."}]

    def _value(
        self, wanted: Any, schema: Any, script: _Script, place: str
    ) -> dict[str, Any] | None:
        """Where a value comes from that a matcher takes; None for an argument that is left out."""
        if not is_matcher(wanted):
            return {"constant": wanted}
        if is_source(wanted):
            return self._taken(wanted, schema, script, place)
        kind = next(iter(wanted))
        known = wanted[kind]
        if kind in ("day", "time") and isinstance(known, dict):
            return self._taken(known, schema, script, place)
        match kind:
            case "equal" | "near" | "time" | "same_words":
                return {"constant": known}
            case "contains":
                is_list = isinstance(schema, dict) and schema.get("type") == "array"
                return {"constant": [known] if is_list else known}
            case "one_of" if known:
                return {"constant": known[0]}
            case "all" if known:
                return self._value_of_all(known, schema, script, place)
            case "every":
                inner = self._value(known, None, script, place) or {}
                return (
                    {"constant": [inner["constant"]]} if "constant" in inner else {"constant": []}
                )
            case "day":
                return {"day": (self._clock.day(known) - self._clock.today).days}
            case "matches":
                return self._said(known, script, place)
            case "absent":
                return None
        return self._sample(schema, script, place)

    def _taken(
        self, wanted: dict[str, Any], schema: Any, script: _Script, place: str
    ) -> dict[str, Any]:
        """A value of an earlier result, perhaps some days later."""
        source = self._source(wanted["from"], script)
        if source is None:
            self._note(f"{place}: `{wanted['from']}` is not looked up in this conversation")
            return {"constant": sample_value(schema) or "…"}
        plus = wanted.get("plus")
        kept = {key: wanted[key] for key in wanted if key in KEYS}
        if isinstance(plus, int):
            kept["plus"] = plus
        if {*wanted} - {*kept}:
            self._note(f"{place}: write how it lies to what {source} brings")
        return {**kept, "from": source}

    def _value_of_all(
        self, wanted: Sequence[Any], schema: Any, script: _Script, place: str
    ) -> dict[str, Any] | None:
        """A value that fits all of several matchers: one of theirs, or their texts together."""
        noted = len(self._notes)
        values = [self._value(one, schema, script, place) for one in wanted]
        del self._notes[noted:]
        texts = [
            v["constant"] if "constant" in v else fitting_words(v["said"]) or ""
            for v in values
            if v and ("said" in v or isinstance(v.get("constant"), str))
        ]
        together: list[dict[str, Any]] = [{"constant": " ".join(texts)}] if texts else []
        context = MatchContext(self._clock, user_text=lambda: script.all_said)
        for value in (*values, *together):
            if value and "constant" in value:
                tests = (compile_matcher(one) for one in wanted)
                if all(test.holds_for(value["constant"], context) for test in tests):
                    return value
        self._note(f"{place}: write a value that fits all that is demanded")
        return values[0]

    def _said(self, pattern: str, script: _Script, place: str) -> dict[str, Any]:
        """What the user said that a pattern fits, else words that it fits."""
        if _found(pattern, script.all_said):
            return {"said": pattern}
        made = fitting_words(pattern)
        if made is None:
            self._note(f"{place}: write a value that /{pattern}/ fits")
        return {"constant": made or "…"}

    def _sample(self, schema: Any, script: _Script, place: str) -> dict[str, Any]:
        """A value that the user said and the argument takes, else a sample of what it takes."""
        declared = schema if isinstance(schema, dict) else {}
        pattern = declared.get("pattern")
        if isinstance(pattern, str):
            inner = pattern.removeprefix("^").removesuffix("$")
            return self._said(inner, script, place)
        if declared.get("type") in ("number", "integer"):
            return {"said": r"\d+(?:\.\d+)?", "guess": sample_value(declared)}
        choices = declared.get("enum")
        if isinstance(choices, list):
            spoken = [c for c in choices if isinstance(c, str) and c.lower() in script.say.lower()]
            return {"constant": (spoken or choices or [None])[0]}
        self._note(f"{place}: write its value, which the script leaves open")
        return {"constant": sample_value(declared) or "…"}

    def _source(self, name: str, script: _Script) -> str | None:
        """The call that a `from` refers to; of a truth, the call that looks the same up."""
        calls = _first_way(script.expect).calls or []
        if any(call.name == name for call in calls):
            return name
        truth = script.truth.get(name)
        if truth is None:
            return name if name in script.earlier else None
        return next((call.name for call in calls if call.tool == truth.tool), None)

    # What it answers.

    def _answer(self, script: _Script, expect: Expect) -> str:
        """A reply in which all that is demanded stands."""
        said = [self._said_in_answer(check, script) for check in expect.answer]
        words = " ".join(piece for piece in said if piece)
        if not words:
            return "Done." if expect.calls else "I can answer that without looking anything up."
        plain = re.sub(r"\{\{[^{}]*+\}\}", "1", words)
        for check in expect.answer:
            if check.not_matches and _found(check.not_matches, plain):
                self._note(f"its answer fits /{check.not_matches}/, which it must not")
        rule = next((i for i, rule in enumerate(script.user) if _fits(rule, plain)), None)
        if rule is not None:
            self._note(f"its answer makes rule {rule + 1} of the user answer once more")
        return words

    def _said_in_answer(self, check: AnswerCheck, script: _Script) -> str | None:
        if check.matches is not None:
            words = fitting_words(check.matches)
            if words is None:
                self._note(f"write an answer that /{check.matches}/ fits")
            return words and _closed(_capitalised(words, check.matches))
        if check.data is not None or check.json_ is not None or check.claims_tools is not None:
            self._note("its answer needs data, which this model does not give: see the agent")
            return None
        if "mentions" not in check.model_fields_set:
            return None
        wanted = check.mentions
        if is_source(wanted):
            source = self._source(wanted["from"], script)
            if source is None:
                self._note(f"its answer should hold `{wanted['from']}`, which only Ferox looks up")
                return None
            if wanted.keys() != {"from", "path"}:
                self._note(f"write what of `{source}` its answer says")
                return None
            return _closed(f"{{{{ {_expression(source, wanted['path'])} }}}}")
        values = wanted if isinstance(wanted, list) else [wanted]
        return _closed(", ".join(map(str, values)))


def _scripts_of(task: Task) -> list[_Script]:
    truth = {one.as_: one for one in task.truth}
    if task.parts is None:
        return [_Script(task.say or "", task.user, task.expect, truth)]
    scripts: list[_Script] = []
    earlier: set[str] = set()
    for part in task.parts:
        earlier = set() if part.fresh else earlier
        user = [*part.user, *task.user]
        scripts.append(_Script(part.say, user, part.expect, truth, frozenset(earlier)))
        earlier |= {call.name for call in _first_way(part.expect).calls or []}
    return scripts


def _first_way(expect: Expect) -> Expect:
    """Of alternatives the first, with what holds for all of them."""
    if not expect.either:
        return expect
    first = _first_way(expect.either[0])
    return first.model_copy(update={"answer": [*expect.answer, *first.answer]})


def _in_order(expect: Expect) -> list[ExpectedCall]:
    """The calls to make, each after those that it must follow, else as they are written."""
    calls = expect.calls or []
    before: dict[str, set[str]] = {call.name: set(_sources_of(call)) for call in calls}
    for chain in expect.order:
        for earlier, later in pairwise(named_steps(chain)):
            before.setdefault(later, set()).add(earlier)
    needed = {name for call in calls for name in _sources_of(call)}
    left = [c for c in calls if not c.optional or c.name in needed]
    placed: list[ExpectedCall] = []
    while left:
        names = {call.name for call in left}
        ready = next((c for c in left if not before[c.name] & (names - {c.name})), left[0])
        placed.append(ready)
        left = [call for call in left if call is not ready]
    return placed


def _sources_of(call: ExpectedCall) -> Iterable[str]:
    for wanted in call.args.values():
        with suppress(MatcherError, PathError):
            yield from (source.name for source in compile_matcher(wanted).sources)
    if call.each:
        yield call.each.from_


def _plain_values(wanted: Any) -> Iterable[Any]:
    """The values that a matcher names as they are."""
    if not is_matcher(wanted):
        yield wanted
    elif "equal" in wanted:
        yield wanted["equal"]
    elif "all" in wanted:
        for one in wanted["all"]:
            yield from _plain_values(one)


def _expression(name: str, path: str) -> str:
    """A path into a result as an expression of a reply."""
    steps, at = [], 1
    while at < len(path):
        step = _PLAIN_STEP.match(path, at)
        if step is None:
            return f"value_of('{name}', {path!r})"
        steps.append(f"['{step[1]}']" if step[1] in _METHODS else step[0])
        at = step.end()
    return (
        name.replace("-", "_") + "".join(steps)
        if name.isidentifier()
        else (f"value_of('{name}', {path!r})")
    )


def _capitalised(words: str, pattern: str) -> str:
    """The words with a large first letter, if the pattern takes that too."""
    large = words[0].upper() + words[1:]
    return large if _found(pattern, large) else words


def _closed(words: str) -> str:
    return words if words.endswith((".", "!", "?")) else f"{words}."


def _fits(rule: UserRule, words: str) -> bool:
    return _found(rule.if_reply.matches, words)


def _found(pattern: str, words: str) -> bool:
    try:
        return compile_pattern(pattern).is_found_in(words)
    except (PatternError, GivenUp):
        return False
