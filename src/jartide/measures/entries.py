"""All measures, in the order they are read out block by block."""

from __future__ import annotations

from jartide.measures.measure import Measure, Unit


def _mm(path: str, words: str | None = None) -> Measure:
    return Measure(path=path, unit=Unit.MM, length_power=1, digits=None, words=words)


def _share(path: str, words: str | None = None) -> Measure:
    return Measure(path=path, unit=Unit.SHARE, words=words)


def _degrees(path: str, *, axial: bool = True, listed: bool = True) -> Measure:
    return Measure(path=path, unit=Unit.DEGREES, axial=axial, listed=listed)


def _plain(path: str, digits: int, words: str | None = None, power: int = 0) -> Measure:
    return Measure(path=path, digits=digits, words=words, length_power=power)


MEASURES = (
    _mm("lines.width_mm", "width"),
    _plain("lines.contrast_L", 0, "contrast"),
    _plain("lines.contrast_spread_L", 0, "contrast_spread"),
    Measure(
        path="lines.length_mm_per_cm2",
        unit=Unit.DENSITY,
        length_power=-1,
        digits=1,
        words="length",
    ),
    _mm("lines.spacing_mm"),
    _plain("lines.spacing_evenness", 2, "evenness"),
    _mm("lines.softness_mm", "softness"),
    _mm("lines.halo_mm", "halo"),
    _plain("lines.junctions_per_dm2", 1, "forks", -2),
    _plain("lines.tortuosity", 2, "wander"),
    _share("lines.width_variation", "variation"),
    _degrees("lines.direction_deg"),
    _degrees("lines.direction_spread_deg", axial=False, listed=False),
    _share("patches.coverage"),
    _plain("patches.count_per_dm2", 0, "count", -2),
    Measure(path="patches.area_mm2", unit=Unit.MM2, length_power=2, digits=None, words="area"),
    _mm("patches.spacing_mm"),
    _plain("patches.clustering", 2, "evenness"),
    _mm("patches.softness_mm", "softness"),
    _share("patches.raggedness", "ragged"),
    _plain("patches.elongation", 1, "elongation"),
    _plain("patches.runs_down", 2, "runs"),
    _mm("cells.size_mm", "cell"),
    _mm("cells.groove_width_mm", "groove"),
    _plain("cells.count_per_dm2", 0, None, -2),
    _plain("cells.elongation", 1, "elongation"),
    _plain("weave.warp_per_cm", 1, "threads", -1),
    _plain("weave.weft_per_cm", 1, "threads", -1),
    _degrees("weave.warp_direction_deg"),
    _degrees("weave.weft_direction_deg"),
    _share("weave.evenness", "weave_even"),
    _plain("weave.slubs_per_dm2", 1, None, -2),
    _mm("grain.spacing_mm", "grain"),
    _plain("grain.contrast_L", 0, "contrast"),
    _share("grain.straightness", "straightness"),
    _mm("grain.length_mm"),
    _degrees("grain.direction_deg", listed=False),
    _plain("grain.knots", 0),
    _plain("grain.pores_per_cm2", 1, None, -2),
    _plain("specks.count_per_dm2", 0, "count", -2),
    _mm("specks.diameter_mm", "diameter"),
    _mm("brush.ridge_spacing_mm", "ridge"),
    _mm("correlation_mm", "mottle"),
    _share("directionality"),
    _degrees("direction_deg", listed=False),
    _degrees("direction_spread_deg", axial=False),
    _mm("repeat.period_mm"),
    Measure(path="repeat.strength", unit=Unit.SHARE, listed=False),
    _plain("texture.contrast_L", 1),
    _mm("texture.size_mm"),
    _degrees("texture.direction_deg"),
    _share("texture.light_share", "light_share"),
    _plain("texture.mottle_L", 1),
)
BY_PATH = {measure.path: measure for measure in MEASURES}


def measure_at(path: str) -> Measure | None:
    """Return the measure at a path of a reading or a comparison; None when it is none.

    What lies before the block and which part of a distribution it is don't matter:
    `pattern.lines.by_layer.vein.width_mm.median` is `lines.width_mm`.
    """
    steps = [step.partition("[")[0] for step in path.split(".")]
    steps = [step for step in steps if step not in ("pattern", "median", "p10", "p90")]
    for start in range(len(steps)):
        for name in (f"{steps[start]}.{steps[-1]}", steps[-1] if start == len(steps) - 1 else ""):
            if name in BY_PATH:
                return BY_PATH[name]
    return None


def block_of(name: str) -> tuple[Measure, ...]:
    """Return the measures of one block that are read out one by one, in order."""
    return tuple(measure for measure in MEASURES if measure.block == name and measure.listed)
