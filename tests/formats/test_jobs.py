"""Jobs built from nothing: nothing is refused and nothing silly said; the table's states are made from what is seen."""

import pytest

from tests.jobs.__main__ import BY_HAND, DONE, PARTLY, all_jobs, held
from tests.jobs.seen import nothing_refused, nothing_silly, without
from tests.jobs.workshop import Job, kind, piece, take_out, wearer

QUICK = ("06", "11", "17")
"""A limb, a belt and vinyl; the others by ``make deep``."""
ALL = [pytest.param(j, id=j.number, marks=[] if j.number in QUICK else [pytest.mark.deep]) for j in all_jobs()]


@pytest.mark.parametrize("job", ALL)
def test_no_job_is_refused_or_told_something_silly(job, tmp_path):
    out = take_out(job, tmp_path / "out")
    assert nothing_refused(out) == ""
    assert nothing_silly(out) == ""
    assert {p["name"] for p in out.order["pieces"]} == {p["name"] for p in job.pieces}
    assert out.rig["dressing"]


def test_states_are_made_from_what_is_missing(tmp_path):
    def missing(_):
        return "it is not there"

    kinds = (kind("all", nothing_refused), kind("half", nothing_refused, missing), kind("none", missing))
    job = Job("00", "Tried", wearer(1, "Nobody"), (piece("bracer", "Cuff"),), kinds)
    assert [h.state for h in held(job, tmp_path / "a")] == [DONE, PARTLY, BY_HAND]
    assert without("coat-primer")(take_out(job, tmp_path / "b")) != "", "primer is a step of a plain bracer"


def test_there_are_twenty_jobs_and_each_looks_at_much():
    jobs = all_jobs()
    assert [j.number for j in jobs] == [f"{n:02}" for n in range(1, 21)]
    assert sum(len(j.kinds) for j in jobs) >= 184
    assert all(len(j.kinds) >= 8 for j in jobs)
