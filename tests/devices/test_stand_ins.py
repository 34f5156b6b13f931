"""The simulated camera and reader do what a real device would."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.adaptation import lab_d50_to_d65, lab_d65_to_d50
from jartide.colour.spaces import lab_to_linear
from jartide.devices.camera import CameraDevice
from jartide.devices.colour_reader import ColourReader, Illuminant
from jartide.errors import DeviceError
from jartide.photo.card.find import find_card
from jartide.photo.load import decode_photo
from jartide.studio.camera_stand import Board, CameraStand, Lamp, StandSettings
from jartide.studio.colour_reader import REPEATABILITY_DE00, SimulatedReader


def test_the_stand_takes_photos_as_it_is_set_up():
    stand: CameraDevice = CameraStand(
        settings=StandSettings(tilt_deg=25.0, distance_mm=450.0, size_px=(1600, 1200))
    )
    photo = decode_photo(stand.take(), stand.name)
    card = find_card(photo)
    assert photo.focal_35mm == 26
    assert card.pose.tilt_deg() == pytest.approx(25, abs=2)
    again = decode_photo(stand.take(), stand.name)
    assert not np.array_equal(photo.code, again.code)  # its own noise


def test_lamps_differ_and_a_board_may_be_blank():
    def mean(lamp):
        settings = StandSettings(
            board=Board.BLANK, lamp=lamp, with_card=False, distance_mm=250.0, size_px=(400, 300)
        )
        code = decode_photo(CameraStand(settings=settings).take(), "a").code
        return code[100:200, 150:250].reshape(-1, 3).mean(axis=0)

    warm, cool = mean(Lamp.BULB), mean(Lamp.SHADE)
    assert warm[0] / warm[2] > cool[0] / cool[2] + 0.1


@pytest.mark.parametrize("wrong", [{"distance_mm": 10.0}, {"tilt_deg": 80.0}])
def test_what_the_stand_can_not_do_is_one_sentence(wrong):
    with pytest.raises(DeviceError) as caught:
        CameraStand(settings=StandSettings(**wrong)).take()
    assert str(caught.value).endswith(".")


LAB = (48.0, -22.0, 9.0)


def plate():
    rgb = np.ones((200, 300, 3)) * lab_to_linear(np.array(LAB))
    rgb[:, 200:] = lab_to_linear(np.array([80.0, 0.0, 0.0]))
    return rgb


@pytest.mark.parametrize("illuminant", list(Illuminant))
@pytest.mark.parametrize("aperture", [4, 8])
def test_the_reader_repeats_within_its_noise(illuminant, aperture):
    reader = SimulatedReader(illuminant, aperture, seed=3)
    checked: ColourReader = reader
    reader.lay_on(plate(), 0.2, (100.0, 100.0))
    read = np.array([checked.read().lab_d65() for _ in range(60)])
    assert read.mean(axis=0) == pytest.approx(LAB, abs=0.08)
    assert 0.3 * REPEATABILITY_DE00 < read.std(axis=0).mean() < 1.5 * REPEATABILITY_DE00


def test_d50_is_stated_as_d50():
    reader = SimulatedReader(Illuminant.D50, 4, seed=1)
    reader.lay_on(plate(), 0.2, (100.0, 100.0))
    said = reader.read()
    assert said.lab == pytest.approx(lab_d65_to_d50(LAB), abs=0.5)
    assert lab_d50_to_d65(lab_d65_to_d50(LAB)) == pytest.approx(LAB, abs=1e-6)


def test_a_wider_opening_sees_more_of_the_border():
    def red(aperture):
        reader = SimulatedReader(Illuminant.D65, aperture, seed=1)
        reader.lay_on(plate(), 0.2, (186.0, 100.0))
        return reader.read().lab[0]

    assert red(4) == pytest.approx(LAB[0], abs=0.5)
    assert red(8) > LAB[0] + 1


def test_a_reader_beside_the_surface_says_so():
    reader = SimulatedReader()
    with pytest.raises(DeviceError, match="lies on nothing"):
        reader.read()
    reader.lay_on(plate(), 0.2, (2.0, 100.0))
    with pytest.raises(DeviceError, match="partly beside"):
        reader.read()
    with pytest.raises(DeviceError, match="4 or 8"):
        SimulatedReader(aperture_mm=6)
    reader.lay_on(plate(), None, (100.0, 100.0))  # no scale: a spot of the picture's own
    assert reader.read().lab_d65() == pytest.approx(LAB, abs=0.5)


def test_white_points_agree_with_published_adaptation():
    colour = pytest.importorskip("colour")
    xyz = colour.Lab_to_XYZ(np.array(LAB), colour.CCS_ILLUMINANTS["cie_2_1931"]["D65"])
    adapted = colour.adaptation.chromatic_adaptation(
        xyz,
        colour.xy_to_XYZ(colour.CCS_ILLUMINANTS["cie_2_1931"]["D65"]),
        np.array([0.96422, 1.0, 0.82521]),
        method="Von Kries",
        transform="Bradford",
    )
    white = colour.XYZ_to_xy(np.array([0.96422, 1.0, 0.82521]))
    assert lab_d65_to_d50(LAB) == pytest.approx(colour.XYZ_to_Lab(adapted, white), abs=0.05)
