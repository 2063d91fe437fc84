"""Matchers: what a script may demand of an argument or a field.

An object is a matcher if all its keys are one matcher's; otherwise it is a plain
value, whole. Each matcher is compiled once into a `Matcher` and tested often.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from decimal import Decimal
from typing import Any

from ferox.core.json_schema import UnusableSchema, schema_of
from ferox.core.json_values import brief_json, canonical_json, equal_json
from ferox.core.matcher import ABSENT, MatchContext, Matcher, MatcherError, if_given
from ferox.core.moment_matchers import day_matcher, source_of, time_matcher
from ferox.core.value_sources import SOURCE_FORMS, ValueSource
from ferox.core.writings import split_words, stands_in
from ferox.intake.limits import GivenUp
from ferox.intake.patterns import PatternError, compile_pattern


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _near_matcher(spec: Mapping[str, Any]) -> Matcher:
    target = spec["near"]
    if not _is_number(target):
        raise MatcherError(f"`near` takes a number, not {brief_json(target)}")
    centre = Decimal(str(target))
    span = spec.get("within", spec.get("percent"))
    if not _is_number(span) or span < 0:
        raise MatcherError(f"`within` and `percent` take a number from 0, not {brief_json(span)}")
    if "within" in spec:
        reach = Decimal(str(spec["within"]))
        description = f"{target} within {spec['within']}"
    else:
        reach = abs(centre) * Decimal(str(spec["percent"])) / 100
        description = f"{target} within {spec['percent']} %"

    def test(value: Any, at: MatchContext) -> bool:
        return _is_number(value) and abs(Decimal(str(value)) - centre) <= reach

    return Matcher(if_given(test), description)


def _regex_matcher(spec: Mapping[str, Any]) -> Matcher:
    try:
        wanted = compile_pattern(spec["matches"])
    except PatternError as error:
        raise MatcherError(f"`matches` takes a regular expression: {error}") from None
    return Matcher(
        if_given(lambda v, at: isinstance(v, str) and wanted.is_found_in(v)),
        f"text matching /{spec['matches']}/",
    )


def _contains_matcher(spec: Mapping[str, Any]) -> Matcher:
    part = spec["contains"]

    def test(value: Any, at: MatchContext) -> bool:
        if isinstance(value, str):
            return isinstance(part, str) and part in value
        if isinstance(value, list):
            return any(equal_json(part, v) for v in value)
        if isinstance(value, dict):
            if isinstance(part, dict):
                return all(k in value and equal_json(v, value[k]) for k, v in part.items())
            return isinstance(part, str) and part in value
        return False

    return Matcher(if_given(test), f"something that contains {brief_json(part)}")


def _from_matcher(spec: Mapping[str, Any]) -> Matcher:
    source = source_of(spec)

    def test(value: Any, at: MatchContext) -> bool:
        values = at.sources(source)
        if values is None:
            return at.has_seen(value)
        return any(source.equals(value, found) for found in values)

    return Matcher(if_given(test), f"a value from {source}", (source,))


def item_matcher(source: ValueSource, item: Any) -> Matcher:
    """One item that a source found."""
    return Matcher(if_given(lambda v, at: source.equals(v, item)), brief_json(item))


def _schema_matcher(spec: Mapping[str, Any]) -> Matcher:
    try:
        schema = schema_of(spec["schema"])
    except (UnusableSchema, GivenUp) as error:
        raise MatcherError(f"`schema`: {error}") from None

    def test(value: Any, at: MatchContext) -> bool:
        try:
            return schema.find_fault(value) is None
        except UnusableSchema as error:
            raise GivenUp(str(error)) from None

    return Matcher(if_given(test), f"valid under {brief_json(spec['schema'])}")


def _every_matcher(spec: Mapping[str, Any]) -> Matcher:
    inner = compile_matcher(spec["every"])
    return Matcher(
        if_given(lambda v, at: isinstance(v, list) and all(inner.test(x, at) for x in v)),
        f"a list of which each is {inner.description}",
        inner.sources,
        inner.days,
        looks_back=inner.looks_back,
    )


def _not_matcher(spec: Mapping[str, Any]) -> Matcher:
    inner = compile_matcher(spec["not"])
    description = f"not {inner.description}"
    return Matcher(
        lambda v, at: not inner.test(v, at),
        description,
        inner.sources,
        inner.days,
        looks_back=inner.looks_back,
    )


def _all_matcher(spec: Mapping[str, Any]) -> Matcher:
    inner = [compile_matcher(s) for s in spec["all"]]
    return Matcher(
        lambda v, at: all(m.test(v, at) for m in inner),
        " and ".join(m.description for m in inner),
        tuple(s for m in inner for s in m.sources),
        tuple(d for m in inner for d in m.days),
        looks_back=any(m.looks_back for m in inner),
    )


def _seen_matcher(spec: Mapping[str, Any]) -> Matcher:
    return Matcher(
        if_given(lambda v, at: at.has_seen(v)),
        "something the user or a result said",
        looks_back=True,
    )


def _from_user(spec: Mapping[str, Any]) -> Matcher:
    return Matcher(
        if_given(lambda v, at: stands_in(v, at.user_text(), at.clock.tz)),
        "something the user said",
        looks_back=True,
    )


def _same_words(spec: Mapping[str, Any]) -> Matcher:
    wanted = split_words(spec["same_words"])
    return Matcher(
        if_given(lambda v, at: isinstance(v, str) and split_words(v) == wanted),
        f"the words “{spec['same_words']}”",
    )


def _equal_matcher(value: Any) -> Matcher:
    return Matcher(if_given(lambda v, at: equal_json(v, value)), brief_json(value))


def _one_of(spec: Mapping[str, Any]) -> Matcher:
    choices = spec["one_of"]
    if not isinstance(choices, list):
        raise MatcherError("`one_of` takes a list")
    return Matcher(
        if_given(lambda v, at: any(equal_json(v, c) for c in choices)),
        "one of " + ", ".join(brief_json(c) for c in choices),
    )


FORMS: tuple[tuple[frozenset[str], Callable[[Mapping[str, Any]], Matcher]], ...] = (
    (frozenset({"equal"}), lambda s: _equal_matcher(s["equal"])),
    (frozenset({"one_of"}), _one_of),
    (frozenset({"near", "within"}), _near_matcher),
    (frozenset({"near", "percent"}), _near_matcher),
    (frozenset({"matches"}), _regex_matcher),
    (frozenset({"contains"}), _contains_matcher),
    (frozenset({"same_words"}), _same_words),
    (frozenset({"day"}), day_matcher),
    (frozenset({"time"}), time_matcher),
    (frozenset({"time", "within_min"}), time_matcher),
    *((keys, _from_matcher) for keys in SOURCE_FORMS),
    (frozenset({"seen"}), _seen_matcher),
    (frozenset({"from_user"}), _from_user),
    (frozenset({"schema"}), _schema_matcher),
    (frozenset({"absent"}), lambda s: Matcher(lambda v, at: v is ABSENT, "not given")),
    (frozenset({"any"}), lambda s: Matcher(if_given(lambda v, at: True), "anything")),
    (frozenset({"every"}), _every_matcher),
    (frozenset({"not"}), _not_matcher),
    (frozenset({"all"}), _all_matcher),
)
"""Every matcher's keys, and how it is compiled."""

_BY_KEYS = dict(FORMS)
_FLAGS = frozenset({"seen", "from_user", "absent", "any"})


def is_matcher(value: Any) -> bool:
    """Whether a value would be read as a matcher, and not as itself."""
    return isinstance(value, dict) and frozenset(value) in _BY_KEYS


def compile_matcher(spec: Any) -> Matcher:
    """Compile what a script says of a value.

    Raises:
        MatcherError, PathError: the matcher cannot be understood.
    """
    if isinstance(spec, dict):
        build = _BY_KEYS.get(frozenset(spec))
        flag = next((k for k in _FLAGS & spec.keys() if len(spec) == 1), None)
        if flag and spec[flag] is not True:
            raise MatcherError(f"`{flag}` takes only true; its contrary is `not: {{{flag}: true}}`")
        if build:
            return build(spec)
    return _equal_matcher(spec)


def result_text(result: Any) -> str:
    """A result as a text to look for values in: its words and numbers, one a line."""
    if isinstance(result, str):
        return result
    return "\n".join(_leaves_of(result))


def _leaves_of(value: Any) -> Iterable[str]:
    if isinstance(value, dict):
        for item in value.values():
            yield from _leaves_of(item)
    elif isinstance(value, list):
        for item in value:
            yield from _leaves_of(item)
    else:
        yield value if isinstance(value, str) else canonical_json(value)
