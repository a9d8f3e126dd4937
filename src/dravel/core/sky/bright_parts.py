"""Surface brightness of showpieces in continuous light, mag/arcsec² in V, where a mean over the size misleads.

Written by hand, from memory, unverified unless a source stands there. `WISHED` is what pictures are made for: dust lit by
stars, dark dust against the sky. `NUCLEI` is the brightest few arcseconds under ordinary seeing.
"""

# Nebulae that shine by reflected starlight: the dust around their stars,
# fainter than the glow close to them. Good to a factor of about 2 in light.
WISHED: dict[str, float] = {
    "M45": 23.5,
    "M78": 22.8,
    "NGC 1333": 23.5,
    "NGC 1435": 23.2,
    "NGC 1579": 23.0,
    "NGC 1788": 23.3,
    "NGC 1977": 22.3,
    "NGC 2023": 22.8,
    "NGC 2170": 23.5,
    "NGC 6726": 23.2,
    "NGC 6729": 23.2,
    "NGC 6914": 23.6,
    "NGC 7023": 23.5,
    "NGC 7129": 23.2,
    "IC 348": 23.5,
    "IC 349": 22.5,
    "IC 435": 23.3,
    "IC 2118": 24.0,
    "IC 4592": 23.8,
    "IC 4601": 23.6,
    "IC 4603": 23.4,
    "IC 4604": 23.3,
    "IC 4605": 23.6,
    "IC 4606": 23.4,
    "vdB 152": 23.6,
    "vdB 141": 23.7,
}

# Globulars: central surface brightness. Source: Harris 1996, AJ 112, 1487 (from memory).
HARRIS = "Harris 1996, AJ 112, 1487 (unverified)"
GLOBULAR_CORES: dict[str, float] = {
    "M2": 15.9, "M3": 16.6, "M4": 17.9, "M5": 16.1, "M9": 17.0, "M10": 17.7, "M12": 18.1, "M13": 16.6, "M14": 18.4,
    "M15": 14.2, "M19": 16.8, "M22": 17.4, "M28": 16.1, "M30": 15.4, "M53": 17.3, "M54": 14.9, "M55": 19.4, "M56": 18.2,
    "M62": 15.1, "M68": 18.7, "M69": 17.3, "M70": 16.2, "M71": 19.2, "M72": 18.6, "M75": 14.8, "M79": 16.3, "M80": 15.1,
    "M92": 15.5, "M107": 19.0, "NGC 104": 14.4, "NGC 362": 14.8, "NGC 2419": 19.8, "NGC 2808": 15.1, "NGC 3201": 19.0,
    "NGC 5053": 22.2, "NGC 5139": 16.8, "NGC 5466": 21.6, "NGC 6397": 15.8, "NGC 6752": 15.2,
}  # fmt: skip

# Galaxies: the nucleus.
NUCLEI: dict[str, float] = {
    "M31": 15.0, "M32": 14.5, "M33": 18.0, "M49": 16.2, "M51": 16.5, "M58": 16.5, "M59": 15.8, "M60": 16.2, "M63": 16.3,
    "M64": 16.0, "M65": 16.5, "M66": 16.3, "M74": 18.3, "M77": 14.8, "M81": 15.3, "M82": 17.0, "M83": 16.5, "M84": 16.0,
    "M86": 16.3, "M87": 16.3, "M94": 15.0, "M95": 16.8, "M96": 16.0, "M101": 18.5, "M104": 15.3, "M105": 15.5, "M106": 16.0,
    "M108": 18.0, "M109": 17.3, "M110": 18.8, "NGC 253": 16.8, "NGC 891": 19.0, "NGC 2403": 18.8, "NGC 2841": 15.8,
    "NGC 2903": 16.8, "NGC 3115": 14.8, "NGC 3628": 18.5, "NGC 4151": 14.0, "NGC 4565": 17.3, "NGC 4631": 18.5,
    "NGC 4945": 18.0, "NGC 5128": 17.5, "NGC 5907": 18.8, "NGC 6946": 17.5, "NGC 7331": 16.3, "IC 342": 17.0,
}  # fmt: skip
