"""Names of bright stars, by place. Names as the IAU approved them; places to a few arcminutes, from memory.

The star list has no names; a row is named when a bright star of it lies at the place.
"""

from functools import lru_cache

import numpy as np

from dravel.catalogue.stars import stars

# Right ascension in hours, declination in degrees, J2000.
PLACES: dict[str, tuple[float, float]] = {
    "Alpheratz": (0.140, 29.09), "Caph": (0.153, 59.15), "Ankaa": (0.438, -42.31), "Schedar": (0.675, 56.54),
    "Diphda": (0.726, -17.99), "Mirach": (1.162, 35.62), "Ruchbah": (1.430, 60.24), "Achernar": (1.629, -57.24),
    "Sheratan": (1.911, 20.81), "Almach": (2.065, 42.33), "Hamal": (2.120, 23.46), "Polaris": (2.530, 89.26),
    "Menkar": (3.038, 4.09), "Algol": (3.136, 40.96), "Mirfak": (3.405, 49.86), "Alcyone": (3.791, 24.11),
    "Aldebaran": (4.599, 16.51), "Rigel": (5.242, -8.20), "Capella": (5.278, 46.00), "Bellatrix": (5.419, 6.35),
    "Elnath": (5.438, 28.61), "Arneb": (5.546, -17.82), "Alnilam": (5.604, -1.20), "Alnitak": (5.679, -1.94),
    "Saiph": (5.796, -9.67), "Betelgeuse": (5.920, 7.41), "Menkalinan": (5.992, 44.95), "Mirzam": (6.378, -17.96),
    "Canopus": (6.399, -52.70), "Alhena": (6.629, 16.40), "Sirius": (6.752, -16.72), "Adhara": (6.977, -28.97),
    "Wezen": (7.140, -26.39), "Castor": (7.577, 31.89), "Procyon": (7.655, 5.22), "Pollux": (7.755, 28.03),
    "Naos": (8.060, -40.00), "Avior": (8.375, -59.51), "Suhail": (9.133, -43.43), "Miaplacidus": (9.220, -69.72),
    "Alphard": (9.460, -8.66), "Regulus": (10.140, 11.97), "Algieba": (10.333, 19.84), "Merak": (11.031, 56.38),
    "Dubhe": (11.062, 61.75), "Denebola": (11.818, 14.57), "Phecda": (11.897, 53.69), "Gienah": (12.263, -17.54),
    "Acrux": (12.443, -63.10), "Gacrux": (12.519, -57.11), "Mimosa": (12.795, -59.69), "Alioth": (12.900, 55.96),
    "Vindemiatrix": (13.036, 10.96), "Mizar": (13.399, 54.93), "Spica": (13.420, -11.16), "Alkaid": (13.792, 49.31),
    "Hadar": (14.064, -60.37), "Arcturus": (14.261, 19.18), "Rigil Kentaurus": (14.660, -60.83),
    "Izar": (14.750, 27.07), "Kochab": (14.845, 74.16), "Alphecca": (15.578, 26.71), "Unukalhai": (15.738, 6.43),
    "Dschubba": (16.006, -22.62), "Antares": (16.490, -26.43), "Kornephoros": (16.504, 21.49),
    "Atria": (16.811, -69.03), "Sabik": (17.173, -15.72), "Shaula": (17.560, -37.10), "Rasalhague": (17.582, 12.56),
    "Eltanin": (17.943, 51.49), "Kaus Australis": (18.403, -34.38), "Vega": (18.616, 38.78), "Nunki": (18.921, -26.30),
    "Albireo": (19.512, 27.96), "Tarazed": (19.771, 10.61), "Altair": (19.846, 8.87), "Sadr": (20.371, 40.26),
    "Peacock": (20.427, -56.74), "Deneb": (20.690, 45.28), "Alderamin": (21.310, 62.59), "Enif": (21.736, 9.88),
    "Alnair": (22.137, -46.96), "Fomalhaut": (22.961, -29.62), "Scheat": (23.063, 28.08), "Markab": (23.079, 15.21),
}  # fmt: skip
FAINTEST_NAMED = 3.7


@lru_cache(maxsize=1)
def star_names() -> dict[int, str]:
    """Names by row of the star list: the brightest star within a quarter of a degree of each place."""
    listed = stars()
    bright = np.flatnonzero(listed.mag <= FAINTEST_NAMED)
    dec = np.radians(listed.dec[bright])
    named = {}
    for name, (hours, place_dec) in PLACES.items():
        across = (np.mod(listed.ra[bright] - hours * 15 + 180, 360) - 180) * np.cos(dec)
        apart = np.hypot(across, listed.dec[bright] - place_dec)
        near = np.flatnonzero(apart < 0.25)
        if len(near):
            named[int(bright[near[np.argmin(listed.mag[bright[near]])]])] = name
    return named
