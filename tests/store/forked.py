"""What the processes of test_forking.py do."""

import os
import subprocess
import sys

from winnower.jobs.forking import forks


def main(answers):
    task = sys.stdin.read()
    with os.fdopen(answers, "w") as out:
        if task == "say":
            out.write(f"{os.getpid()} {os.environ.get('WINNOWER_TRIED', '')}")
            return 7
        if task == "fail":
            raise ValueError("as it was told")
        if task == "exit":
            raise SystemExit(5)
        if task == "begin one that sleeps":
            sleeping = subprocess.Popen(["sleep", "600"])
            print(sleeping.pid, file=out, flush=True)
            sleeping.wait()
        if task == "count open files":
            out.write(str(len(os.listdir("/proc/self/fd")) - 1))  # without the folder that is listed
        if task == "begin another":
            out.write(str(_another()))
    return 0


def _another():
    nowhere = os.open(os.devnull, os.O_WRONLY)
    process = forks.begin("tests.store.forked", give=nowhere, stdin=True)
    process.give(b"say")
    return process.wait(20)
