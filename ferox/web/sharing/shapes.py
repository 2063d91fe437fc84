"""What the interface of reports, exports and bringing in takes and gives."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from ferox.exports.writing import ExportFormat
from ferox.web.sharing.job import JobState


class ReportQuery(BaseModel):
    """A report as a page or as markdown; `against`: a run, else what each cell was before."""

    form: Literal["html", "markdown"] = "html"
    against: int | None = None


class CompareReportQuery(BaseModel):
    """A report of two sides, each RUN or RUN:AGENT."""

    a: str
    b: str


class ReportText(BaseModel):
    """A report, and the name of a file for it."""

    name: str
    text: str


class ExportRequest(BaseModel):
    """A run's trials in a format. `each_trial`: of JUnit, a case for each; `to`: a collector's
    address that spans are sent to, in place of a file."""

    format: ExportFormat
    each_trial: bool = False
    to: str | None = Field(None, max_length=2_000)


class JobPath(BaseModel):
    """An export, or a bringing in, by its number."""

    number: str


class ExportShape(BaseModel):
    """How far an export is, and the name of its file."""

    id: str
    version: int
    run: int
    format: ExportFormat
    name: str
    state: JobState
    done: int
    total: int
    message: str | None


class BringingRequest(BaseModel):
    """The file whose pieces follow, by its name."""

    name: str = Field(max_length=200)


class PieceRequest(BaseModel):
    """The next piece of its text."""

    text: str


class BringingStart(BaseModel):
    """What is said of its traces besides what they tell; see `ferox bring`."""

    agent: str | None = Field(None, max_length=200)
    task: str | None = Field(None, max_length=400)
    clock: str | None = Field(None, max_length=40)


class BringingShape(BaseModel):
    """How far a file is brought in, and what became of it. `bytes` have come."""

    id: str
    version: int
    name: str
    bytes: int
    state: JobState
    done: int
    total: int
    message: str | None
    run: int | None
    trials: int
    passes: int
    judged: int
    by_words: list[str]
    left_out: list[str]
