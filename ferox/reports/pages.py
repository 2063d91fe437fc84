"""The templates of reports. What agents, tools and files said stands in a page as text."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from jinja2 import Environment, FileSystemLoader, StrictUndefined, Template

from ferox.intake.visible import visible_text


@lru_cache(maxsize=4)
def page_template(name: str) -> Template:
    """A template of this folder. Everything that it is given is escaped, and what steers a
    terminal or turns text around is written out."""
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        autoescape=True,
        undefined=StrictUndefined,
        finalize=_shown_text,
    )
    return environment.get_template(name)


def _shown_text(value: object) -> object:
    return visible_text(value) if type(value) is str else value
