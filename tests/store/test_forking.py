"""Processes that begin with everything loaded: they tell how they ended, and end when they are told to."""

import os
import signal
import subprocess
import time
from pathlib import Path

import pytest

from tests.at_work import HANG_S
from winnower.jobs.forking import LOST, Forks


@pytest.fixture(scope="module")
def forks():
    forks = Forks()
    yield forks
    forks.close()


def begun(forks, tmp_path, **how):
    """A process that does as tests/store/forked.py is told."""
    read, write = os.pipe()
    process = forks.begin("tests.store.forked", give=write, stdin=True, **how)
    os.close(write)
    return process, os.fdopen(read)


def test_it_is_told_what_to_do_and_tells_its_code(forks, tmp_path):
    process, said = begun(forks, tmp_path, environment={"WINNOWER_TRIED": "yes"})
    assert process.poll() is None
    process.give(b"say")
    assert said.read() == f"{process.pid} yes"
    assert process.wait(20) == 7
    assert process.poll() == 7


def test_an_error_and_an_exit_are_codes(forks, tmp_path):
    for task, code in ((b"fail", 1), (b"exit", 5)):
        process, _ = begun(forks, tmp_path)
        process.give(task)
        assert process.wait(20) == code


def test_what_is_killed_says_so_with_what_it_began(forks, tmp_path):
    process, said = begun(forks, tmp_path, own_group=True)
    process.give(b"begin one that sleeps")
    child = int(said.readline())
    process.kill_all()
    assert process.wait(20) == -signal.SIGKILL
    until = time.monotonic() + HANG_S
    stat = Path(f"/proc/{child}/stat")
    while stat.exists() and " Z " not in stat.read_text():
        assert time.monotonic() < until
        time.sleep(0.01)


def test_waiting_has_an_end(forks, tmp_path):
    process, _ = begun(forks, tmp_path)
    with pytest.raises(subprocess.TimeoutExpired):
        process.wait(0.05)
    process.kill()
    assert process.wait(20) == -signal.SIGKILL


def test_no_open_file_of_another_stays_in_it(forks, tmp_path):
    first, _ = begun(forks, tmp_path)
    second, said = begun(forks, tmp_path)
    second.give(b"count open files")
    assert said.read() == "4"
    first.kill()
    first.wait(20)


def test_one_that_was_forked_begins_others(forks, tmp_path):
    process, said = begun(forks, tmp_path, may_begin=True)
    process.give(b"begin another")
    assert said.read() == "7"
    assert process.wait(20) == 0


def test_where_the_process_that_forks_is_gone_another_takes_its_place(tmp_path):
    forks = Forks()
    first, _ = begun(forks, tmp_path)
    forks._process.kill()
    forks._process.wait()
    second, said = begun(forks, tmp_path)
    second.give(b"say")
    assert second.wait(60) == 7
    assert first.poll() is None  # it is at work still, though nobody is left to tell its code
    first.kill()
    assert first.wait(20) == LOST
    forks.close()
