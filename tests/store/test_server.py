"""The own MariaDB: started once, shared, stopped by its last user; its settings; the schema."""

import json
import os
import pwd
import signal
import socket
import subprocess
import sys
import time
from dataclasses import replace

import pymysql
import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text as sql
from sqlalchemy.exc import DataError, IntegrityError

from tests.at_work import HANG_S
from winnower.core.errors import Unavailable
from winnower.settings import load_settings
from winnower.store.database import Database, DatabaseRefused, alembic_config
from winnower.store.models import Base, Project
from winnower.store.server import Server, account_of_system, free_port


def test_it_is_strict_local_and_counts_letters_exactly(database):
    with database.session() as session:
        found = dict(
            session.execute(
                sql(
                    "show variables where variable_name in ('sql_mode', 'skip_networking', 'character_set_server')"
                )
            ).all()
        )
        zone = session.scalar(sql("select @@session.time_zone"))
    assert "STRICT_ALL_TABLES" in found["sql_mode"]
    assert found["character_set_server"] == "utf8mb4"
    assert found["skip_networking"] == "ON"
    assert zone == "+00:00"


def test_the_migrations_make_the_schema_of_the_models(database):
    with database.session() as session:
        context = MigrationContext.configure(session.connection(), opts={"compare_type": False})
        differences = [d for d in compare_metadata(context, Base.metadata) if d[0] not in ("modify_default",)]
    assert differences == []


def test_migrations_go_down_and_up_again(own):
    server = own
    with server.in_use() as url:
        database = Database(url)
        database.migrate()
        with database.session() as session:
            config = alembic_config()
            config.attributes["connection"] = session.connection()
            command.downgrade(config, "base")
        with database.session() as session:
            left = set(session.scalars(sql("show tables")))
        assert left <= {"alembic_version"}
        database.migrate()
        database.migrate()
        database.close()
    assert server.url is None


def test_what_the_code_relies_on_is_held_by_the_schema(database, project, account):
    bad = (
        "insert into member (project_id, account_id, role) values (:p, :a, 'king')",
        "insert into variable (project_id, name, kind, position) values (:p, 'x', 'colour', 0)",
        "insert into source (project_id, name) values (0, 'nobody''s project')",
        "insert into job (project_id, account_id, kind, state, params) values (:p, :a, 'import', 'lost', '{}')",
    )
    for statement in bad:
        with pytest.raises((IntegrityError, DataError, Exception)) as caught, database.session() as session:
            session.execute(sql(statement), {"p": project.id, "a": account.id})
        assert "constraint" in str(caught.value).lower()


def test_names_that_differ_in_case_are_different(database, project):
    with database.session() as session:
        for name in ("Courier", "courier", "Cóurier"):
            session.execute(
                sql("insert into source (project_id, name) values (:p, :n)"), {"p": project.id, "n": name}
            )
        with pytest.raises(IntegrityError), session.begin_nested():
            session.execute(
                sql("insert into source (project_id, name) values (:p, 'Courier')"), {"p": project.id}
            )


def test_it_is_shared_and_stopped_by_the_last(tmp_path):
    settings = replace(load_settings(), data=tmp_path, database_url=None)
    first, second = Server(settings), Server(settings)
    with first.in_use() as url:
        with second.in_use() as same:
            assert same == url
        assert first.url == url
    assert first.url is None
    assert not (first.home / "pid").exists()
    first.remove()


def test_it_can_be_kept_running_and_its_password_stays(own):
    server = own
    server.keep(True)
    with server.in_use() as url:
        pass
    assert server.url == url
    server.keep(False)
    assert server.stop()
    assert not server.stop()
    assert (own.folder / "running.json").stat().st_mode & 0o077 == 0


@pytest.fixture
def own(tmp_path):
    """A server of its own, whose files go with the test."""
    server = Server(replace(load_settings(), data=tmp_path / "data", database_url=None))
    yield server
    server.remove()


def test_nobody_signs_in_without_a_password_or_being_who_started_it(own):
    with own.in_use():
        socket_path = str(own.socket)
        for name, password in (
            ("root", "x"),
            ("winnower", ""),
            ("winnower", "guess"),
            ("mysql", ""),
        ):
            if name == account_of_system():
                continue  # the socket knows who this is, whatever is typed
            with pytest.raises(pymysql.err.OperationalError, match="Access denied"):
                pymysql.connect(unix_socket=socket_path, user=name, password=password)
        for folder in (own.data / "index", own.data / "uploads", own.home, own.socket.parent):
            assert folder.stat().st_mode & 0o077 == 0
        process = json.loads((own.folder / "running.json").read_text())["pid"]
        owner = pwd.getpwuid(os.stat(f"/proc/{process}").st_uid).pw_name
        assert owner == ("mysql" if os.geteuid() == 0 else account_of_system())
        database = Database(own.url)
        with database.session() as session:
            rights = "\n".join(session.scalars(sql("show grants")))
            assert "ALL PRIVILEGES" not in rights and "FILE" not in rights and "SUPER" not in rights
            with pytest.raises(DatabaseRefused, match="denied"), session.begin_nested():
                session.execute(sql("select 1 into outfile '/tmp/x'"))
            with pytest.raises(DatabaseRefused, match="denied"), session.begin_nested():
                session.execute(sql("select * from mysql.global_priv"))
        database.close()


def test_an_older_data_folder_is_made_safe_when_it_is_started(own):
    with own.in_use(), own._admin() as admin:
        cursor = admin.cursor()
        cursor.execute("create user root@'127.0.0.1' identified by ''")
        cursor.execute("grant all on *.* to root@'127.0.0.1'")
        cursor.execute("create user ''@localhost identified by ''")
        cursor.execute("create user winnower@'127.0.0.1' identified by 'old'")
    with own.in_use(), own._admin() as admin:
        cursor = admin.cursor()
        cursor.execute("select user, host from mysql.user")
        assert set(cursor.fetchall()) <= {
            (account_of_system(), "localhost"),
            ("winnower", "localhost"),
            ("mariadb.sys", "localhost"),
        }


def test_a_database_that_dies_is_started_again_and_found(own):
    with own.in_use() as url:
        database = Database(url)
        database.migrate()
        for _ in range(2):
            os.kill(json.loads((own.folder / "running.json").read_text())["pid"], signal.SIGKILL)
            away, found = 0, False
            limit = time.monotonic() + HANG_S
            while not found and time.monotonic() < limit:
                try:
                    with database.session() as session:
                        found = session.scalar(sql("select 1")) == 1
                except Unavailable as error:
                    assert "is starting" in error.message or "does not answer" in error.message
                    away += 1
                    time.sleep(0.1)
            assert found
        database.close()


def install(folder, fails, calls):
    """An installation that leaves something half made and fails some times, then succeeds."""

    def once(self, draft):
        assert not draft.exists(), "what an attempt left is gone before the next"
        calls.append(draft)
        (draft / "mysql").mkdir(parents=True)
        told = "2026-11-30 [ERROR] Out of memory\nThe latest information is at a page far away"
        return subprocess.CompletedProcess([], int(len(calls) <= fails), "", told)

    return once


def test_files_are_complete_or_not_there(own, monkeypatch):
    calls = []
    own._make_folders()
    monkeypatch.setattr(Server, "_install", install(own.home, 2, calls))
    own._make_files()
    assert len(calls) == 3 and (own.home / "files" / "mysql").exists() and not calls[0].exists()
    own._make_files()
    assert len(calls) == 3, "they are made once"


def test_an_installation_that_fails_again_and_again_says_why_and_leaves_nothing(own, monkeypatch):
    own._make_folders()
    monkeypatch.setattr(Server, "_install", install(own.home, 9, []))
    with pytest.raises(Unavailable, match=r"could not make its files: Out of memory$"):
        own._make_files()
    assert not (own.home / "files").exists()


def test_a_start_that_fails_says_why(own):
    with own.in_use():
        pass
    (own.home / "files" / "ibdata1").write_bytes(b"")
    with pytest.raises(Unavailable, match="MariaDB did not start: .+"):
        own.start()


def test_ports_in_use_are_passed_over():
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        assert free_port(port) > port


def test_a_server_that_is_not_there_says_so():
    database = Database("mysql+pymysql://x:y@127.0.0.1:9/none")
    with pytest.raises(Unavailable, match="does not answer"), database.session() as session:
        session.get(Project, 1)


def test_settings_that_are_no_numbers_say_so(monkeypatch):
    monkeypatch.setenv("WINNOWER_SESSION_HOURS", "many")
    with pytest.raises(SystemExit, match="WINNOWER_SESSION_HOURS must be a whole number"):
        load_settings()


def test_the_worker_refuses_what_it_does_not_know(database, project, account):
    from winnower.store.jobs import make_job
    from winnower.store.models import Job

    with database.session() as session:
        job = make_job(session, project.id, account.id, "dance", {})
    done = subprocess.run(
        [sys.executable, "-m", "winnower.jobs.worker", str(job.id)],
        env={"WINNOWER_DATABASE_URL": database.url, "PATH": ""},
    )
    assert done.returncode == 1
    with database.session() as session:
        assert "dance" in session.get_one(Job, job.id).message


def test_whoever_works_with_it_is_known(tmp_path):
    server = Server(replace(load_settings(), data=tmp_path / "used", database_url=None))
    assert not server.has_users
    with server.in_use():
        assert server.has_users
    assert not server.has_users
    server.remove()
