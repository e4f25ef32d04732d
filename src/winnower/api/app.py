"""The application: routers under /api/v1, the built web app for everything else."""

from __future__ import annotations

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

import markdown_it
from fastapi import APIRouter, FastAPI
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.gzip import GZipMiddleware

from winnower import __version__
from winnower.api import (
    answers,
    articles,
    assistant,
    checking,
    codebook,
    coded_texts,
    coding_work,
    comparing,
    concordance,
    corpus,
    dataset,
    errors,
    events,
    findings,
    found_passages,
    groups_of_codes,
    imports,
    instruments,
    notes,
    paraphrases,
    passages,
    people,
    reading,
    reports,
    review,
    run_beside,
    run_learning,
    run_names,
    run_review,
    run_themes,
    runs,
    searching,
    termwork,
    tones,
    variables,
    verdicts,
    versions,
    words,
)
from winnower.api import schemas as s
from winnower.api.context import House
from winnower.api.documented import describe
from winnower.api.gate import Gate
from winnower.api.loop_time import LoopTime
from winnower.api.signing_in import LoginThrottle
from winnower.core.errors import NotFound, WinnowerError
from winnower.jobs.apart import Apart
from winnower.jobs.forking import forks
from winnower.jobs.runner import Runner
from winnower.settings import ROOT, Settings
from winnower.store import accounts
from winnower.store.corpus import CorpusCache
from winnower.store.database import Database
from winnower.store.disk_space import require_room_for_upload
from winnower.store.memory import Memory
from winnower.store.reading_passages import PassageCache

#: Processes for files and jobs are made ready so long after the start, or with the first that is needed.
WARM_AFTER_S = 15
WEB = ROOT / "web" / "dist"
HELP, METHODS = ROOT / "docs" / "help", ROOT / "docs" / "methods.md"
help_router = APIRouter()


@help_router.get("/help/{topic}")
def help_page(topic: str) -> s.HelpPage:
    """A help page that ships with the product."""
    known = {path.stem: path for path in (*HELP.glob("*.md"), METHODS)}
    if topic not in known:
        raise NotFound("There is no such help page.")
    text = known[topic].read_text(encoding="utf-8")
    return s.HelpPage(topic=topic, html=markdown_it.MarkdownIt("commonmark").enable("table").render(text))


def make_app(settings: Settings, database: Database, *, run_jobs: bool = True, web: Path = WEB) -> FastAPI:
    """The application on a migrated database."""
    runner = Runner(database, settings)
    memory = Memory(settings.memory_bytes)

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        # not at once: whoever starts the application wants to see its first page
        warming = threading.Timer(WARM_AFTER_S, forks.warm)
        warming.daemon = True
        warming.start()
        if run_jobs:
            runner.start()
        database.watch.start()
        with memory.tended():
            yield
        warming.cancel()
        database.watch.stop()
        if run_jobs:
            runner.stop()

    app = FastAPI(
        title="Winnower",
        version=__version__,
        lifespan=lifespan,
        openapi_url="/api/v1/openapi.json",
        docs_url=None,
        redoc_url=None,
    )
    corpora = CorpusCache(settings.index, memory=memory)
    app.state.house = House(
        settings, database, corpora, Apart(settings), PassageCache(memory), LoginThrottle(database)
    )
    app.state.runner = runner
    app.add_middleware(GZipMiddleware, minimum_size=2_000, compresslevel=4)
    app.add_middleware(
        Gate,
        hosts=settings.hosts,
        form_bytes=settings.limit_upload_bytes,
        signed_in=lambda token: _signed_in(database, token),
        require_room=lambda size: require_room_for_upload(settings, size),
    )
    app.add_middleware(LoopTime)
    errors.install(app)
    parts = (people, corpus, variables, reading, checking, words, concordance, searching)
    coding = (codebook, groups_of_codes, passages, found_passages, coded_texts, coding_work)
    automatic = (run_beside, run_learning, run_names, run_themes, run_review, runs, tones)
    for part in (
        *parts,
        *coding,
        *automatic,
        notes,
        paraphrases,
        versions,
        instruments,
        termwork,
        review,
        verdicts,
        comparing,
        answers,
        dataset,
        findings,
        reports,
        articles,
        assistant,
        events,
        imports,
    ):
        app.include_router(part.router, prefix="/api/v1")
    for common in (help_router, comparing.measures_router):
        app.include_router(common, prefix="/api/v1")
    _serve_web(app, web)
    describe(app)
    return app


def _signed_in(database: Database, token: str) -> bool:
    try:
        with database.session() as session:
            accounts.account_of(session, token)
    except WinnowerError:
        return False
    return True


def _serve_web(app: FastAPI, web: Path) -> None:
    if (web / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=web / "assets"), name="assets")

    @app.get("/api/{rest:path}", include_in_schema=False)
    def no_such_call(rest: str) -> Response:
        return errors.problem(404, "Not found", f"There is no call /api/{rest}.")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        index = web / "index.html"
        if not index.exists():
            return Response("The web app is not built; run ./winnower serve.", 503)
        return FileResponse(index, headers={"Cache-Control": "no-cache"})
