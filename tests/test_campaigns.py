"""The attacks have teeth: what is wrong is seen to be wrong."""

from __future__ import annotations

import os
import time
from pathlib import Path

import numpy as np
import pytest

from campaigns.attempt import fault_of
from campaigns.campaign import Campaign, run
from campaigns.moments import ended_before
from campaigns.mutants import PACKAGES, ROOT, chosen, mutants_of
from campaigns.mutations import mutated, mutated_json
from jartide.errors import JarTideError, PhotoError


class TwoSentences(JarTideError):
    def __str__(self):
        return "One line.\nAnother."


class NoSentence(JarTideError):
    def __str__(self):
        return "KeyError 'x'"


def refuse(error):
    raise error


@pytest.mark.parametrize(
    ("work", "words"),
    [
        (lambda: None, None),
        (lambda: refuse(PhotoError("error.photo.empty", name="a.jpg")), None),
        (lambda: refuse(SystemExit(2)), None),
        (lambda: refuse(KeyError("x")), "KeyError"),
        (lambda: refuse(SystemExit(9)), "exit 9"),
        (lambda: refuse(TwoSentences("x")), "no sentence"),
        (lambda: refuse(NoSentence("x")), "no sentence"),
        (lambda: os.kill(os.getpid(), 9), "signal 9"),
        (lambda: time.sleep(30), "still at it"),
    ],
)
def test_what_went_wrong_is_told(work, words):
    fault = fault_of(work, most_s=1.0)
    assert (fault is None) if words is None else words in fault


def test_what_takes_too_much_memory_is_told():
    fault = fault_of(lambda: bool(np.ones(4_000_000_000, np.uint8).sum()))
    assert fault is not None and ("GB" in fault or "memory" in fault)


def test_work_is_ended_before_the_moment_that_was_asked_for(tmp_path):
    def work():
        for number in range(3):
            os.mkdir(tmp_path / f"{folder}{number}")

    for moment in range(4):
        folder = f"at{moment}-"
        assert ended_before(moment, work) == (moment < 3)
        assert len(list(tmp_path.glob(f"{folder}*"))) == min(moment, 3)


def test_a_campaign_tells_each_fault_by_its_seed_and_makes_it_again():
    def attack(shared, own: Path, rng):
        assert shared == "shared" and own.is_dir()
        value = int(rng.integers(0, 10))
        return f"{value}" if value > 7 else None

    campaign = Campaign(
        name="test", promise="", made=lambda _: "shared", attack=attack, slice_count=3
    )
    whole = run(campaign, 5, count=60)
    assert whole.count == 60 and 0 < len(whole.faults) < 60
    seed, words = whole.faults[-1]
    assert run(campaign, seed, count=1).faults == ((seed, words),)
    assert run(campaign, 5, seconds=0.2).count > 0


def test_faults_in_bytes_and_json_are_never_none_for_long():
    rng = np.random.default_rng(1)
    data = bytes(range(200))
    assert sum(mutated(data, rng) != data for _ in range(50)) > 45
    plain = {"a": [1, {"b": "c"}], "d": None}
    assert sum(mutated_json(plain, rng) != plain for _ in range(50)) > 40
    assert plain == {"a": [1, {"b": "c"}], "d": None}


def test_mutants_change_one_line_that_counts_and_still_is_python():
    path = ROOT / "src/jartide/boards/stop.py"
    found = mutants_of(path)
    lines = path.read_text("utf-8").split("\n")
    assert len(found) > 8
    for mutant in found:
        assert lines[mutant.line - 1] == mutant.before != mutant.after
        changed = [*lines]
        changed[mutant.line - 1] = mutant.after
        compile("\n".join(changed), "mutant.py", "exec")
        assert '"""' not in mutant.before and not mutant.before.startswith(("import", "from"))
    one, again, other = chosen(1, 10), chosen(1, 10), chosen(2, 10)
    assert one == again != other
    assert {Path(m.file).parts[2] for m in one} == set(PACKAGES)


def test_nonsense_in_a_plan_is_found():
    from campaigns.plans import nonsense
    from tests.plan.conftest import step

    sound = (step("sand_key"), step("dust_off"), step("base_roller"), step("veil", wet=True))
    assert nonsense(sound) is None
    for steps, said in (
        ((step("cloud_sponge", tool_mm=4.0),), "a tool of 4.0 mm"),
        ((step("base_roller", laid_share=0.0),), "0.0 laid"),
        ((step("dust_off"),), "nothing made"),
        ((step("base_roller", layer="a"), step("base_roller", layer="a")), "twice"),
        ((step("spatter"), step("soften", wet=True)), "nothing wet"),
    ):
        assert said in (nonsense(steps) or "")
