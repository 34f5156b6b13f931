"""Draw the demo job's photos and its job.toml into a folder: `make demo-photos`."""

from __future__ import annotations

import json
import sys
import tomllib
from pathlib import Path

from jartide.photo.load import load_photo
from jartide.photo.prepare import prepare
from jartide.reading.read import read_picture
from jartide.store.demo import settings_of
from jartide.store.serialise import reading_to_text
from jartide.studio.demo import SIZE_MM, draw_demo

HEAD = """\
# The demo job. Written by `make demo-photos` together with the photos beside it.
name = "Hotel Vessary"
client = "Hotel Vessary"
place = "Harbour Street"
# Whose last board has something to mend: the demo opens on it.
opens_on = "Lift lobby"

[[finish]]
key = "bar-front"
name = "Bar front"
note = "deep green marble, 6 panels"
family = "marble"
surface = {name = "Panel", width_mm = 900, height_mm = 1050, count = 6}

[[finish]]
key = "lift-lobby"
name = "Lift lobby"
note = "verdigris on bronze, 2 doors"
family = "verdigris"
surface = {name = "Door", width_mm = 1000, height_mm = 2200, count = 2}

[[finish]]
key = "library"
name = "Library"
note = "limed oak, 14 panels"
family = "wood"
surface = {name = "Panel", width_mm = 620, height_mm = 1900, count = 14}

[[finish]]
key = "terrace"
name = "Terrace"
note = "weathered concrete, 1 wall"
family = "concrete"
surface = {name = "Wall", width_mm = 7400, height_mm = 2600, count = 1}
"""


def main(folder: Path, *, photos: bool = True) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    if not photos:  # only read the photos there are again
        (folder / "readings.json").write_text(readings_of(folder), encoding="utf-8")
        return
    text = HEAD
    for photo in draw_demo():
        (folder / photo.file).write_bytes(photo.jpeg)
        corners = ", ".join(f"[{x}, {y}]" for x, y in photo.corners)
        text += (
            f'\n[[photo]]\nfinish = "{photo.finish}"\nfile = "{photo.file}"\n'
            f"corners = [{corners}]\nsize_mm = {list(SIZE_MM)}\n"
            f"neutral = {list(photo.chip)}\nneutral_L = {photo.chip_L}\n"
        )
        if photo.leave_out:
            rings = ", ".join(
                "[" + ", ".join(f"[{x}, {y}]" for x, y in ring) + "]" for ring in photo.leave_out
            )
            text += f"leave_out = [{rings}]\n"
        if photo.board is not None:
            text += f"board = {photo.board}\nremark = {json.dumps(photo.remark)}\n"
        print(f"{photo.file}  {len(photo.jpeg) / 1e6:.2f} MB", file=sys.stderr)
    (folder / "job.toml").write_text(text, encoding="utf-8")
    (folder / "readings.json").write_text(readings_of(folder), encoding="utf-8")


def readings_of(folder: Path) -> str:
    """Read every photo as the application would, so that the demo opens with its readings."""
    plan = tomllib.loads((folder / "job.toml").read_text(encoding="utf-8"))
    families = {row["key"]: row["family"] for row in plan["finish"]}
    readings = {}
    for row in plan["photo"]:
        picture = prepare(load_photo(folder / row["file"]), settings_of(row))
        reading, _ = read_picture(picture, families[row["finish"]])
        readings[row["file"]] = json.loads(reading_to_text(reading))
    return json.dumps(readings)


if __name__ == "__main__":
    main(Path(sys.argv[1]), photos="--readings" not in sys.argv)
