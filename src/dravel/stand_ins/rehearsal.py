"""A planned night rehearsed: the same plan, seed and trouble give the same night again."""

from collections.abc import Mapping, Sequence

from dravel.core.engine.context import Context
from dravel.core.model.base import Model
from dravel.core.model.session import SessionFrame
from dravel.core.overview.sequence import NightStep
from dravel.core.overview.tonight import TonightPlan
from dravel.stand_ins.instruments import (
    NIGHT_S,
    RigFacts,
    StandInCamera,
    StandInFocuser,
    StandInGuider,
    StandInMount,
    StandInPower,
    StandInWeather,
    Trouble,
)
from dravel.stand_ins.player import Instruments, Player, RehearsalEvent

SAMPLE_S = 300.0
BEFORE_S, AFTER_S = 2 * 3600.0, 1.5 * 3600.0  # about darkness: hands are busy then


class RehearsalSky(Model):
    """The weather that is played, a value every `every_s` seconds from `start_s`."""

    start_s: float
    every_s: float
    cloud: tuple[float, ...]
    wind_m_s: tuple[float, ...]
    air_c: tuple[float, ...]


class RehearsedRig(Model):
    """One rig's night as played."""

    rig_id: str
    name: str
    frames: tuple[SessionFrame, ...]
    events: tuple[RehearsalEvent, ...]


class Rehearsal(Model):
    """A night played by stand-ins. Nothing of it was on the sky."""

    seed: int
    sky: RehearsalSky
    rigs: tuple[RehearsedRig, ...]


def facts_of(context: Context) -> RigFacts:
    """What stand-ins take of a rig; where a figure is not known, an ordinary night's value stands for it."""
    known, preferences = context.known, context.preferences
    site = context.rig.site
    fwhm, scale = known.get("star_px"), known.get("pixel_scale")
    return RigFacts(
        fwhm_px=fwhm or 2.5, scale_arcsec_px=scale or 1.5, rms_arcsec=known.get("guide_rms") or 0.8,
        refocus_k=known.get("optics.refocus_interval_k"), hours_of_power=_hours(context),
        dew_margin_k=known.get("power.dew_margin_k"), air_c=known.get("air") or preferences.night_temperature_c,
        wind_m_s=(site.wind_m_s if site and site.wind_m_s is not None else preferences.wind_m_s),
        seeing_arcsec=(site.seeing_arcsec if site and site.seeing_arcsec else preferences.default_seeing_arcsec),
    )  # fmt: skip


def _hours(context: Context) -> float | None:
    source = context.rig.supply.source
    return None if source is None or source.mains else context.known.get("power.hours_left_h")


def rehearse(
    plan: TonightPlan, facts: Mapping[str, RigFacts], seed: int, trouble: Trouble, until_s: float = NIGHT_S
) -> Rehearsal:
    """Play a plan up to a moment, the rigs under one sky."""
    dusk, dawn = _night(plan)
    first = next(iter(facts.values()), None)
    if first is None:
        first = RigFacts(2.5, 1.5, 0.8, None, None, None, 5.0, 3.0, 2.5)
    weather = StandInWeather(seed, trouble, dusk, dawn, first)
    played = tuple(
        _played(rig.rig_id, rig.name, rig.steps, facts[rig.rig_id], weather, (seed, trouble, dusk, dawn), until_s)
        for rig in plan.rigs
    )
    looks = [weather.at(dusk + k * SAMPLE_S) for k in range(int((dawn - dusk) / SAMPLE_S) + 1)]
    sky = RehearsalSky(
        start_s=dusk, every_s=SAMPLE_S, cloud=tuple(round(look.cloud, 2) for look in looks),
        wind_m_s=tuple(round(look.wind_m_s, 1) for look in looks), air_c=tuple(round(look.air_c, 1) for look in looks),
    )  # fmt: skip
    return Rehearsal(seed=seed, sky=sky, rigs=played)


def _night(plan: TonightPlan) -> tuple[float, float]:
    """From when to when trouble may come, seconds from noon: by the night, not by what is planned in it, so that a plan made anew
    leaves what has happened as it was.
    """
    if plan.dark:
        return plan.dark[0][0] * SAMPLE_S - BEFORE_S, plan.dark[-1][1] * SAMPLE_S + AFTER_S
    return 5 * 3600.0, 19 * 3600.0


def _played(
    rig_id: str, name: str, steps: Sequence[NightStep], facts: RigFacts, weather: StandInWeather,
    told: tuple[int, Trouble, float, float], until_s: float,
) -> RehearsedRig:  # fmt: skip
    seed, trouble, dusk, dawn = told
    on = Instruments(
        StandInMount(), StandInCamera(seed, rig_id, facts), StandInFocuser(seed, rig_id, trouble, dusk, dawn, facts),
        StandInGuider(seed, rig_id, trouble, dusk, dawn, facts), weather,
        StandInPower(steps[0].start_s if steps else dusk, facts),
    )  # fmt: skip
    player = Player(on, facts)
    player.play(steps, until_s)
    return RehearsedRig(
        rig_id=rig_id, name=name, frames=tuple(player.frames),
        events=tuple(sorted(player.events, key=lambda item: item.at_s)),
    )  # fmt: skip
