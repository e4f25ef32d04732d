"""The own MariaDB: started once, shared, stopped by its last user; its settings; the schema."""

import socket
import subprocess
import sys
from dataclasses import replace

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text as sql
from sqlalchemy.exc import DataError, IntegrityError

from winnower.core.errors import Unavailable
from winnower.settings import load_settings
from winnower.store.database import Database, alembic_config
from winnower.store.models import Base, Project
from winnower.store.server import Server, free_port


def test_it_is_strict_local_and_counts_letters_exactly(database):
    with database.session() as session:
        found = dict(
            session.execute(
                sql(
                    "show variables where variable_name in ('sql_mode', 'bind_address', 'character_set_server')"
                )
            ).all()
        )
        zone = session.scalar(sql("select @@session.time_zone"))
    assert "STRICT_ALL_TABLES" in found["sql_mode"]
    assert found["bind_address"] == "127.0.0.1"
    assert found["character_set_server"] == "utf8mb4"
    assert zone == "+00:00"


def test_the_migrations_make_the_schema_of_the_models(database):
    with database.session() as session:
        context = MigrationContext.configure(session.connection(), opts={"compare_type": False})
        differences = [d for d in compare_metadata(context, Base.metadata) if d[0] not in ("modify_default",)]
    assert differences == []


def test_migrations_go_down_and_up_again(tmp_path):
    server = Server(replace(load_settings(), data=tmp_path, database_url=None))
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
    assert not (tmp_path / "mariadb" / "pid").exists()


def test_it_can_be_kept_running_and_its_password_stays(tmp_path):
    server = Server(replace(load_settings(), data=tmp_path, database_url=None))
    server.keep(True)
    with server.in_use() as url:
        pass
    assert server.url == url
    server.keep(False)
    assert server.stop()
    assert not server.stop()
    assert (tmp_path / "mariadb" / "running.json").stat().st_mode & 0o077 == 0


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
