"""What is no text to be read does not come in."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from jartide.store.plain_text import cleaned, plain_text
from jartide.store.records import Fault, Finish, Job, Photo, PhotoUse
from jartide.store.workspace import Workspace, now


def test_marks_that_turn_or_hide_are_left_out():
    assert plain_text("bar\u202egpj.exe") == "bargpj.exe"
    assert plain_text("a\x00b\x1b[31mc\x7f\u2066d\u2069\ufeff") == "ab[31mcd"
    assert plain_text("photo \udce9.jpg") == "photo \ufffd.jpg"
    assert plain_text("one\r\ntwo\rthree\u2028four\tfive\n") == "one\ntwo\nthree\nfour\tfive\n"
    # Writing that runs from the right by itself stays as it is.
    assert plain_text("שיש ירוק – رخام") == "שיש ירוק – رخام"


@given(st.text(st.characters(exclude_categories=())))
def test_plain_text_is_written_and_stays_as_it_is(text):
    plain = plain_text(text)
    assert plain.encode("utf-8").decode("utf-8") == plain
    assert plain_text(plain) == plain


def test_a_record_is_cleaned_all_through_and_else_the_same():
    photo = Photo(
        finish_id="f", sha256="0" * 64, file_name="a\u202eb.jpg", added_at="t",
        faults=(Fault(kind="hair\x00", shape=((0.0, 0.0), (1.0, 1.0))),),
    )  # fmt: skip
    clean = cleaned(photo)
    assert (clean.file_name, clean.faults[0].kind) == ("ab.jpg", "hair")
    assert clean.use is PhotoUse.TARGET and clean.settings == photo.settings
    assert cleaned(clean) is clean


def test_the_workspace_keeps_plain_text_whoever_writes(tmp_path):
    workspace = Workspace.open(tmp_path / "w")
    job = Job(name="Ho\u202etel\x07 <img src='x.png'>\udce9", created_at=now())
    workspace.put(job, Finish(job_id=job.id, name="Bar"))
    assert [one.name for one in workspace.jobs()] == ["Hotel <img src='x.png'>\ufffd"]
    workspace.close()
