"""Automatic coding over HTTP, said shortly, for the tests of runs."""

from tests.api.test_corpus_station import done
from winnower.jobs.coding import CodingJob


class Runs:
    """Short ways to make and judge runs."""

    def __init__(self, client, at, database, settings, dictionary):
        self.client, self.at, self.database, self.settings = client, at, database, settings
        self.recipe = {"finder": {"kind": "dictionary", "dictionary": dictionary}, "unit": "sentence"}

    def finish(self, job):
        CodingJob(self.database, self.settings, job["id"]).run()
        return done(self.client.get(f"{self.at}/jobs/{job['id']}"))

    def make(self, recipe=None, **given):
        job = done(self.client.post(f"{self.at}/runs", json={"recipe": recipe or self.recipe, **given}), 201)
        return self.finish(job)["result"]["run"]

    def preview(self, recipe=None, **given):
        asked = {"recipe": recipe or self.recipe, **given}
        return done(self.client.post(f"{self.at}/runs/preview", json=asked))

    def get(self, run):
        return done(self.client.get(f"{self.at}/runs/{run}"))

    def items(self, run, **asked):
        return done(self.client.post(f"{self.at}/runs/{run}/passages", json=asked))["items"]

    def judge(self, run, *passages, **given):
        asked = {"passages": [one["id"] for one in passages], **given}
        return done(self.client.post(f"{self.at}/runs/{run}/judge", json=asked))

    def state(self, run, state):
        return done(self.client.patch(f"{self.at}/runs/{run}", json={"state": state}))

    def step(self, run):
        told = done(self.client.get(f"{self.at}/runs/{run}/step"))
        job = done(self.client.post(f"{self.at}/runs/{run}/step"), 201)
        return told, self.finish(job)["result"]
