"""The company words keep, as far as it has been worked out."""

from __future__ import annotations

from winnower.api.context import Desk
from winnower.core.suggest import Company
from winnower.jobs.company import company_path, read_company
from winnower.store.jobs import latest_job


def company_of(desk: Desk) -> tuple[Company | None, str]:
    """The company vectors of the present texts, and "ready", "working" or "none"."""
    corpus = desk.corpus
    path = company_path(corpus.folder, corpus.revision)
    found = corpus.kept(("company",), lambda _: read_company(path)) if path.exists() else None
    if found is not None:
        return found, "ready"
    job = latest_job(desk.session, desk.project.id, "company")
    return None, "working" if job is not None and job.state in ("queued", "running") else "none"
