"""Searches, chains and counts against independent ways to the same answer: scipy's graphs, astropy's statistics, brute force."""

from datetime import date
from itertools import pairwise
from math import pi, sqrt

import numpy as np
import pytest
from astropy.stats import signal_to_noise_oir_ccd
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import dijkstra
from scipy.spatial import cKDTree
from scipy.stats import poisson

from dravel.catalogue.demo import RIDGE, TERRACE
from dravel.catalogue.objects import catalogue
from dravel.catalogue.stars import stars
from dravel.core.model import Preferences, Target
from dravel.core.overview.months import BRIGHT_ENOUGH, ENOUGH_HOURS, LARGE_ENOUGH_ARCMIN, PLATES, months
from dravel.core.sky.glow import LINE_KINDS
from dravel.core.sky.hop import START_MAGNITUDE, STEP_SHARE, hop_card
from dravel.core.sky.night import night_of, passing
from dravel.core.sky.search import SearchWanted, find
from dravel.core.sky.star_counts import BAND_NM, MEAN_QE, ZERO_POINT, Eye, chance_of_none

P = Preferences()
AUTUMN = date(2026, 11, 25)
RNG = np.random.default_rng(20261125)
SOME = tuple(catalogue().everything()[i] for i in sorted(RNG.choice(1500, 60, replace=False)))


def unit(ra_deg, dec_deg):
    ra, dec = np.radians(ra_deg), np.radians(dec_deg)
    return np.column_stack([np.cos(dec) * np.cos(ra), np.cos(dec) * np.sin(ra), np.sin(dec)])


@pytest.mark.parametrize("seed", range(6))
def test_the_chain_of_a_hop_card_is_as_cheap_as_scipys(seed):
    rng = np.random.default_rng(seed)
    ra, dec = rng.uniform(30, 50, 500), rng.uniform(-8, 8, 500)
    magnitude = rng.uniform(4, 8.5, 500)
    magnitude[:4] = (1.5, 2.5, 3.0, 3.5)
    target = Target(name="Cloud", ra_deg=40, dec_deg=0)
    field = 2.5
    card = hop_card(target, field, ra, dec, magnitude)
    if card.blank:
        pytest.skip("no chain in this sky")

    def price(m):
        return np.clip((m - 4) / 3, 0, 2)

    def cost_of(mags):
        prices = [*price(np.array(mags)), 0.0]
        return mags[0] / 2 + sum(1 + (a + b) / 2 for a, b in pairwise(prices))

    mine = cost_of([stop.magnitude for stop in card.stops[:-1]])
    # The card looks no farther than it must; scipy is given the whole sky.
    visible = magnitude <= np.clip(9.0 - 2.0 * np.log2(field / 1.5), 6.0, 10.0)
    nodes = np.vstack([unit(ra[visible], dec[visible]), unit(40, 0)])
    pairs = cKDTree(nodes).query_pairs(2 * np.sin(np.radians(STEP_SHARE * field) / 2), output_type="ndarray")
    prices = np.append(price(magnitude[visible]), 0.0)
    weights = 1 + (prices[pairs[:, 0]] + prices[pairs[:, 1]]) / 2
    graph = csr_matrix((weights, (pairs[:, 0], pairs[:, 1])), shape=(len(nodes), len(nodes)))
    reach = dijkstra(graph, directed=False, indices=len(nodes) - 1)[:-1]
    starts = magnitude[visible] <= START_MAGNITUDE
    best = (reach[starts] + magnitude[visible][starts] / 2).min()
    assert best * (1 - 1e-9) <= mine <= best * 1.25  # it may miss a cheaper detour far off the way


def test_real_hop_cards_step_within_the_field_over_real_stars():
    listed = stars()
    for name in ("M13", "NGC 891", "NGC 7380"):
        card = hop_card(catalogue().get(name), 3.0, listed.ra, listed.dec, listed.mag)
        points = unit([s.ra_deg for s in card.stops], [s.dec_deg for s in card.stops])
        gaps = np.degrees(np.arccos(np.clip((points[1:] * points[:-1]).sum(axis=1), -1, 1)))
        assert card.stops[0].magnitude <= START_MAGNITUDE
        assert gaps.max() <= 3.0 * STEP_SHARE + 1e-6
        assert gaps == pytest.approx([hop.degrees for hop in card.hops], abs=1e-4)


@pytest.mark.parametrize("magnitude", [8.0, 11.0, 13.0, 15.0])
@pytest.mark.parametrize("exposure", [0.5, 2.0, 5.0])
def test_signal_to_noise_against_astropy(magnitude, exposure):
    # The CCD equation (Merline & Howell 1995), as astropy.stats.signal_to_noise_oir_ccd has it.
    eye = Eye(area_mm2=1963, scale_arcsec_px=3.8, fwhm_arcsec=4.5, exposure_s=exposure, sky_mag_arcsec2=20.5)
    rate = ZERO_POINT * BAND_NM * MEAN_QE * eye.through * eye.efficiency * eye.area_mm2 / 1e6
    pixels = max(4.0, pi * (eye.fwhm_arcsec / eye.scale_arcsec_px) ** 2)
    theirs = signal_to_noise_oir_ccd(
        exposure, rate * 10 ** (-0.4 * magnitude), rate * 10 ** (-0.4 * 20.5) * 3.8**2, 0, eye.read_noise_e, pixels
    )
    assert eye.signal_to_noise(magnitude) == pytest.approx(theirs, rel=1e-9)


@pytest.mark.parametrize("expected", [0.0, 0.3, 1.0, 4.0, 20.0])
def test_the_chance_of_no_star_against_scipy(expected):
    assert chance_of_none(expected) == pytest.approx(poisson.pmf(0, expected) if expected else 1.0)


@pytest.mark.parametrize("site", [RIDGE, TERRACE], ids=lambda s: s.id)
@pytest.mark.parametrize("day", [AUTUMN, date(2027, 4, 15), date(2027, 7, 1)])
def test_a_whole_list_stands_as_each_of_it_does(site, day):
    night = night_of(site, day)
    result, total = find(SOME, SearchWanted(), P, night, most=len(SOME))
    assert total == len(SOME)
    for item in result:
        seen = passing(item.target, night, P)
        assert item.hours == pytest.approx(seen.hours)
        if seen.hours > 0:
            assert item.best_altitude_deg == pytest.approx(float(seen.altitude[seen.usable].max()), abs=1e-6)


@pytest.mark.parametrize("field", [(0.6, 0.45), (2.8, 2.1), (7.4, 5.0)])
def test_what_fits_by_brute_force(field):
    result, total = find(SOME, SearchWanted(fits=True), P, field=field, most=len(SOME))

    def fits(target: Target) -> bool:
        if target.major_arcmin is None:
            return False
        major, minor = target.major_arcmin / 60, (target.minor_arcmin or target.major_arcmin) / 60
        return P.small_target_share <= max(major / max(field), minor / min(field)) <= 1

    names = {entry.target.name for entry in result}
    assert total == len(names)
    for item in result:
        assert P.small_target_share <= item.span <= 1
        assert item.target.major_arcmin / 60 <= sqrt(field[0] ** 2 + field[1] ** 2)
    assert {t.name for t in SOME if fits(t)} == names


def test_months_count_what_each_night_counts():
    field = (2.8, 2.1)
    answer = months((("h", "Heron", field, P.small_target_share),), SOME, RIDGE, AUTUMN, P)
    for k, day in ((0, date(2026, 11, 15)), (5, date(2027, 4, 15)), (9, date(2027, 8, 15))):
        by_hand = 0
        for target in SOME:
            bright = (target.magnitude if target.magnitude is not None else 14.0) <= BRIGHT_ENOUGH
            large_line = target.kind in LINE_KINDS and (target.major_arcmin or 0) >= LARGE_ENOUGH_ARCMIN
            large_line &= target.size_source not in PLATES
            if target.major_arcmin is None or not (bright or large_line):
                continue
            minor = target.minor_arcmin or target.major_arcmin
            span = max(target.major_arcmin / 60 / max(field), minor / 60 / min(field))
            if not P.small_target_share <= span <= 1:
                continue
            by_hand += passing(target, night_of(RIDGE, day), P).hours >= ENOUGH_HOURS
        assert answer.rows[0].counts[k] == by_hand
