"""Palettes go out as GPL, ASE and CSS, and the first two come back."""

from __future__ import annotations

import re
import struct
import warnings

import numpy as np
import pytest

with warnings.catch_warnings():  # it asks for a plotting library we have no use for
    warnings.simplefilter("ignore")
    import colour

from jartide.colour.difference import delta_e_2000
from jartide.errors import JarTideError, PaintError
from jartide.store.palettes import Swatch, read_palette, write_ase, write_css, write_gpl

SWATCHES = (
    Swatch(name="Ground", lab=(12.0, -6.0, 2.0)),
    Swatch(name="Veins, pale", lab=(78.5, -4.0, 6.25)),
    Swatch(name="Grünspan", lab=(55.0, -22.0, -4.0)),
)


def test_ase_comes_back_exactly_and_gpl_within_a_step_of_its_eight_bits():
    back = read_palette(write_ase(SWATCHES), "a.ase")
    assert [s.name for s in back] == [s.name for s in SWATCHES]
    for a, b in zip(SWATCHES, back, strict=True):
        assert b.lab == pytest.approx(a.lab, abs=2e-3)
    text = write_gpl(SWATCHES, "Bar front")
    assert text.splitlines()[1] == "Name: Bar front"
    for a, b in zip(SWATCHES, read_palette(text.encode(), "a.gpl"), strict=True):
        assert a.name == b.name
        assert float(delta_e_2000(np.array(a.lab), np.array(b.lab))) < 0.7


def test_gpl_and_css_say_the_colours_another_library_computes():
    lines = write_gpl(SWATCHES, "x").splitlines()[4:]
    css = write_css(SWATCHES)
    for swatch, line in zip(SWATCHES, lines, strict=True):
        white = colour.CCS_ILLUMINANTS["cie_2_1931"]["D65"]
        rgb = colour.XYZ_to_sRGB(colour.Lab_to_XYZ(np.array(swatch.lab), white))
        wanted = np.rint(np.clip(rgb, 0, 1) * 255).astype(int)
        assert np.abs(np.array(line.split()[:3], int) - wanted).max() <= 1
    hexes = re.findall(r"--([a-z0-9-]+): (#[0-9a-f]{6});", css)
    assert [name for name, _ in hexes] == ["ground", "veins-pale", "gr-nspan"]
    assert len(re.findall(r"lab\([\d.]+% -?[\d.]+ -?[\d.]+\)", css)) == 3


def test_names_that_are_alike_get_numbers():
    twice = (SWATCHES[0], SWATCHES[0])
    assert "--ground-2:" in write_css(twice)


def test_other_models_and_groups_of_an_ase_are_read():
    def block(kind, body):
        return struct.pack(">HI", kind, len(body)) + body

    def named(words, model, *values):
        text = (words + "\0").encode("utf-16-be")
        body = struct.pack(">H", len(text) // 2) + text + model
        return block(1, body + struct.pack(f">{len(values)}fH", *values, 0))

    data = b"ASEF" + struct.pack(">HHI", 1, 0, 4)
    data += block(0xC001, b"\0\0") + named("Red", b"RGB ", 1.0, 0.0, 0.0)
    data += named("Grey", b"Gray", 0.5) + block(0xC002, b"")
    red, grey = read_palette(data, "a.ase")
    assert red.lab == pytest.approx((53.24, 80.09, 67.2), abs=0.1)
    assert grey.lab == pytest.approx((53.4, 0, 0), abs=0.2)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "can't be read as a palette"),
        (b"PNG", "can't be read as a palette"),
        (b"\xff\xfe\x00", "can't be read as a palette"),
        (b"GIMP Palette\n", "holds no colours"),
        (b"GIMP Palette\n1 2\n", "line 2"),
        (b"GIMP Palette\n#\n1 2 300 x\n", "line 3"),
        (b"ASEF\0\1\0\0\0\0\0\2", "colour 1"),
        (write_ase(SWATCHES)[:-9], "colour 3"),
        (write_ase(SWATCHES).replace(b"LAB ", b"XYZ "), "colour 1"),
    ],
)
def test_what_can_not_be_read_is_one_sentence(data, said):
    with pytest.raises(PaintError, match=said):
        read_palette(data, "a.file")


def test_damaged_files_never_stop_the_program():
    rng = np.random.default_rng(3)
    sound = (write_ase(SWATCHES), write_gpl(SWATCHES, "x").encode())
    for number in range(2000):
        data = bytearray(sound[number % 2])
        for place in rng.integers(0, len(data), 3):
            data[place] = rng.integers(0, 256)
        try:
            read_palette(bytes(data), "x")
        except JarTideError as error:
            words = str(error)
            if not words.endswith("."):
                pytest.fail(words)
