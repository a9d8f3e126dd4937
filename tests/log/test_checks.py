"""Sessions typed in a minute, and what is doubtful of them: zones, midnight, overlaps, light beyond time."""

from datetime import UTC, date, datetime, timedelta

import pytest
from pydantic import ValidationError

from dravel.core.frames.claims import FrameClaims
from dravel.core.log.checks import Beside, TypedSession, session_warnings, whole
from dravel.core.log.from_frames import FrameOfNight, nights_of
from dravel.core.log.hands import in_hands
from dravel.core.model import Preferences, Site
from dravel.core.model.session import SessionRecord, SessionSubs, WorkedMark

TODAY = date(2026, 11, 25)
RIDGE = Site(name="Alto de Veleda", latitude_deg=40.9, longitude_deg=-2.6, elevation_m=1240, timezone="Europe/Madrid")
FAR = Site(name="South", latitude_deg=-23.0, longitude_deg=-67.8, timezone="America/Santiago")


def subs(taken=20, kept=18, sub_s=180.0):
    return (SessionSubs(target="ic-1805", sub_s=sub_s, planned=taken, taken=taken, kept=kept),)


def typed(**changes):
    return TypedSession(**{"rig_id": "heron", "night": date(2026, 11, 20), "subs": subs(), **changes})


def test_a_rig_an_evening_and_subs_are_enough():
    record = whole(typed(), "Heron", 3, RIDGE, Preferences())
    assert record.site == "Alto de Veleda" and record.rig_revision == 3 and record.origin == "typed"
    # Astronomical dusk at 40.9° N on 20 November is about 18:30 UTC.
    assert datetime(2026, 11, 20, 17, 45, tzinfo=UTC) < record.began < datetime(2026, 11, 20, 19, 0, tzinfo=UTC)
    assert (record.ended - record.began).total_seconds() == pytest.approx(20 * 180 * 1.1, abs=1)
    assert session_warnings(record, "x", RIDGE, [], TODAY) == ()


def test_without_a_site_and_where_it_never_gets_dark():
    assert whole(typed(), "Heron", 1, None, Preferences()).site == "no site"
    polar = RIDGE.model_copy(update={"latitude_deg": 75.0})
    record = whole(typed(night=date(2026, 6, 20)), "Heron", 1, polar, Preferences())
    assert record.began.tzinfo is not None and record.ended > record.began


def test_an_end_before_the_beginning_is_refused_by_its_field():
    with pytest.raises(ValidationError, match="ended"):
        whole(typed(began=datetime(2026, 11, 20, 22, tzinfo=UTC), ended=datetime(2026, 11, 20, 20, tzinfo=UTC)),
              "Heron", 1, RIDGE, Preferences())  # fmt: skip
    with pytest.raises(ValidationError, match="kept"):
        subs(taken=5, kept=6)
    early = whole(typed(ended=datetime(2026, 11, 20, 17, tzinfo=UTC)), "Heron", 1, RIDGE, Preferences())
    assert early.ended == datetime(2026, 11, 20, 17, tzinfo=UTC) > early.began


def record(began, hours=3.0, night=date(2026, 11, 20), **changes):
    at = datetime.fromisoformat(began)
    return SessionRecord(
        night=night, site="Alto de Veleda", rig_id="heron", rig="Heron", began=at, ended=at + timedelta(hours=hours),
        **{"subs": subs(), **changes},
    )  # fmt: skip


@pytest.mark.parametrize(("began", "site", "said"), [
    ("2026-11-20T20:00:00+00:00", RIDGE, ()),
    ("2026-11-21T02:00:00+00:00", RIDGE, ()),  # past midnight it is still the night of the 20th
    ("2026-11-21T02:00:00+01:00", RIDGE, ()),
    ("2026-11-21T20:00:00+00:00", RIDGE, ("night of 21–22 Nov",)),
    ("2026-11-20T12:30:00+00:00", RIDGE, ("the sun was up",)),
    ("2026-11-21T01:00:00+00:00", FAR, ()),  # 22:00 on the clocks there
    ("2026-11-20T14:00:00+00:00", FAR, ("night of 19–20 Nov", "the sun was up")),
])  # fmt: skip
def test_times_are_held_against_the_sites_own_clock_and_sun(began, site, said):
    result = session_warnings(record(began), "x", site, [], TODAY)
    assert len(result) == len(said) and all(any(words in item for item in result) for words in said), result


def test_overlaps_more_light_than_time_and_evenings_to_come_are_told():
    here = record("2026-11-20T20:00:00+00:00")
    other = Beside("y", "heron", "Heron", "2026-11-20", here.began + timedelta(hours=2), here.ended, False)
    assert "may count twice" in session_warnings(here, "x", RIDGE, [other], TODAY)[0]
    assert session_warnings(here, "y", RIDGE, [other], TODAY) == ()  # itself
    assert (
        session_warnings(
            here, "x", RIDGE, [Beside("y", "wren", "Wren", "2026-11-20", here.began, here.ended, False)], TODAY
        )
        == ()
    )
    assert (
        session_warnings(
            here, "x", RIDGE, [Beside("y", "heron", "Heron", "2026-11-20", here.began, here.ended, True)], TODAY
        )
        == ()
    )
    full = record("2026-11-20T20:00:00+00:00", subs=subs(taken=100, kept=90))
    assert "5 h of subs in 3 h" in session_warnings(full, "x", RIDGE, [], TODAY)[0]
    ahead = record("2026-11-28T20:00:00+00:00", night=date(2026, 11, 28))
    assert session_warnings(ahead, "x", RIDGE, [], TODAY) == ("evening in the future",)
    assert "is archived" in session_warnings(here, "x", RIDGE, [], TODAY, put_away=True)[0]


def test_marks_lie_in_the_range_of_their_sort():
    with pytest.raises(ValidationError, match="Guide exposure cannot be 600 s"):
        WorkedMark(sort="guide_exposure", value=600)
    with pytest.raises(ValidationError, match="Counterweight"):
        WorkedMark(sort="weight", value=-3)
    assert WorkedMark(sort="focuser", value=-3000).value == -3000


def frame(at, name="a.fits", exposure=180.0, **claims):
    away = claims.pop("away", False)
    return FrameOfNight(name + at, name, FrameClaims(at=at, exposure_s=exposure, **claims), away)


def test_frames_of_one_evening_are_one_night_across_midnight(rigs):
    heron = rigs["heron"]
    target = heron.framings[0].target
    result, answer = nights_of(
        [
            frame("2026-11-20T23:30:00", target=target.name.lower().replace(" ", "")),
            frame("2026-11-21T00:30:00", target=target.name),
            frame("2026-11-21T01:30:00", target="somewhere", near_ra_deg=target.ra_deg, near_dec_deg=target.dec_deg, away=True),
            frame("2026-11-21T22:30:00", target="Nobody's"),
            frame("", target="untimed"), frame("2026-11-20T23:30:00", target=target.name),
        ],
        "heron", heron, 4,
    )  # fmt: skip
    assert [item.record.night for item in result] == [date(2026, 11, 20), date(2026, 11, 21)]
    first = result[0].record
    assert [(sub.target, sub.taken, sub.kept) for sub in first.subs] == [(target.key, 3, 2)]
    assert first.losses[0].count == 1 and first.origin == "frames" and first.rig_revision == 4
    assert result[1].record.subs[0].target == "Nobody's" and len(result[0].frames) == 3
    assert answer == (
        "1 frames without time are not used", "1 frames measured twice count once",
    )  # fmt: skip


def test_the_same_evening_by_the_sites_clock_not_the_worlds(rigs):
    """20:00 UTC on the 20th is the evening of the 20th in Spain, and the morning of the 21st in New Zealand."""
    east = rigs["heron"].model_copy(update={"site": RIDGE.model_copy(update={"timezone": "Pacific/Auckland"})})
    result, _ = nights_of([frame("2026-11-20T08:00:00")], "heron", east, 1)
    assert result[0].record.night == date(2026, 11, 20)
    result, _ = nights_of([frame("2026-11-20T08:00:00")], "heron", rigs["heron"], 1)
    assert result[0].record.night == date(2026, 11, 19)


def test_a_part_in_two_rigs_of_a_night_is_told_and_who_has_what(rigs):
    heron = rigs["heron"]
    assert all(not item.double for item in in_hands([heron]))
    twin = heron.model_copy(update={"name": "Twin"})
    both = in_hands([heron, twin])
    assert both and both[0].double and both[0].rigs == ("Heron", "Twin") and "Heron and Twin" in both[0].words
    lent = heron.mount.model_copy(update={"holder": "the club"})
    borrowed = heron.support.model_copy(update={"holder": "a neighbour", "status": "borrowed"})
    said = " ".join(
        str(item.words) for item in in_hands([heron.model_copy(update={"mount": lent, "support": borrowed})])
    )
    assert "is lent to the club" in said and "is borrowed from a neighbour" in said


@pytest.mark.parametrize(("site", "clock", "utc"), [
    (RIDGE, "21:30", "2026-11-20T20:30"), (RIDGE, "02:15", "2026-11-21T01:15"), (FAR, "21:30", "2026-11-21T00:30"),
    (None, "21:30", "2026-11-20T21:30"), (RIDGE, "12:00", "2026-11-20T11:00"), (RIDGE, "00:00", "2026-11-20T23:00"),
])  # fmt: skip
def test_times_on_the_sites_clock_are_of_the_right_day(site, clock, utc):
    result = whole(typed(from_clock=clock, until_clock=""), "Heron", 1, site, Preferences())
    assert result.began == datetime.fromisoformat(f"{utc}:00+00:00")
    assert site is None or session_warnings(result, "x", site, [], TODAY) == () or clock == "12:00"


def test_a_night_over_the_change_of_the_clocks_has_its_true_length():
    """On 25 October 2026 clocks in Spain go from 03:00 back to 02:00: from 22:00 to 06:00 are nine hours."""
    result = whole(
        typed(night=date(2026, 10, 24), from_clock="22:00", until_clock="06:00"), "Heron", 1, RIDGE, Preferences()
    )
    assert result.ended - result.began == timedelta(hours=9)


def test_a_clock_is_written_as_one():
    with pytest.raises(ValidationError, match="from_clock"):
        typed(from_clock="25:00")
    with pytest.raises(ValidationError, match="ended"):
        whole(typed(from_clock="23:00", until_clock="21:00"), "Heron", 1, RIDGE, Preferences())
