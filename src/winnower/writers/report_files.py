"""The files a report leaves as."""

from __future__ import annotations

from collections.abc import Mapping

from winnower.core.report import Picture, PictureForm, Report
from winnower.writers.report_html import report_html
from winnower.writers.report_markdown import report_markdown_zip
from winnower.writers.report_pdf import report_pdf
from winnower.writers.report_word import report_docx

#: By the names of the files' forms: how their pictures are drawn. Word shows no outlines everywhere.
PICTURES: dict[str, PictureForm] = {"docx": "png", "pdf": "svg", "html": "svg", "md": "svg"}


def report_file(report: Report, pictures: Mapping[str, Picture], form: str) -> bytes:
    """A report as a file of a form in PICTURES, with pictures drawn for it, by the names of its drawings."""
    if form == "docx":
        return report_docx(report, pictures)
    if form == "pdf":
        return report_pdf(report, pictures)
    return report_html(report, pictures).encode() if form == "html" else report_markdown_zip(report, pictures)
