"""The starter shelf: generic, unbranded parts with typical, made-up dimensions, to sketch a rig before owning any."""

from functools import lru_cache
from typing import Any

from dravel.catalogue.starter_gear import NARROW, WIDE, starter_gear, twelve
from dravel.core.model import (
    Adapter,
    Camera,
    CameraRing,
    Connector,
    Corrector,
    Dovetail,
    Filter,
    FilterHolder,
    Focuser,
    FocuserPart,
    OffAxisGuider,
    Part,
    Passband,
    ReadMode,
    Sensor,
    Telescope,
)
from dravel.core.model.parts import Prism

M42, M48, M54, M63 = "M42x0.75", "M48x0.75", "M54x0.75", "M63x1"


def male(size: str) -> Connector:
    """A male thread."""
    return Connector(family="thread", size=size, gender="male")


def female(size: str) -> Connector:
    """A female thread."""
    return Connector(family="thread", size=size, gender="female")


def tube(size: str) -> Connector:
    """A smooth nose."""
    return Connector(family="clamp", size=size, gender="tube")


def socket(size: str) -> Connector:
    """A clamp for a smooth nose."""
    return Connector(family="clamp", size=size, gender="socket")


def flange(size: str, gender: Any) -> Connector:
    """A bolted ring."""
    return Connector(family="flange", size=size, gender=gender)


def _scope(
    id: str, name: str, aperture: float, focal: float, design: Any, circle: float, tube_mm: tuple[float, float],
    plane: float, travel: float, mass: float, rear: Connector, **more: Any,
) -> Telescope:  # fmt: skip
    return Telescope(
        id=id, name=name, aperture_mm=aperture, focal_length_mm=focal, design=design, image_circle_mm=circle,
        tube_length_mm=tube_mm[0], tube_diameter_mm=tube_mm[1], mass_g=mass, sensor_side=rear, status="listed",
        dovetail=Dovetail(
            width=WIDE if mass > 6000 else NARROW, length_mm=max(160.0, round(tube_mm[0] * (0.55 if plane > 100 and tube_mm[1] < 150 else 0.85))),
            middle_mm=round(tube_mm[0] * 0.4),
        ),
        focuser=Focuser(
            travel_mm=travel, focal_plane_mm=plane, mechanism=more.pop("mechanism", "drawtube"),
            load_limit_kg=more.pop("carries", None), height_mm=more.pop("height", None),
        ),
        **more,
    )  # fmt: skip


def _lens(id: str, focal: float, ratio: float, length: float, diameter: float, mass: float) -> Telescope:
    return Telescope(
        id=id, name=f"{focal:g} mm f/{ratio:g} lens", aperture_mm=round(focal / ratio, 2), focal_length_mm=focal,
        design="camera_lens", image_circle_mm=43.5, tube_length_mm=length, tube_diameter_mm=diameter, mass_g=mass,
        focuser=Focuser(mechanism="lens_cell", travel_mm=10, focal_plane_mm=44.0), status="listed",
        dovetail=Dovetail(width=NARROW, length_mm=120, middle_mm=round(length * 0.3)),
        sensor_side=Connector(family="bayonet", size="dslr-44.0", gender="lens"),
    )  # fmt: skip


def _corrector(
    id: str, name: str, role: Any, factor: float, back: float, circle: float, ends: tuple[Connector, Connector],
    focal: tuple[float | None, float | None], ratio: tuple[float | None, float | None], mass: float, length: float,
    **more: Any,
) -> Corrector:  # fmt: skip
    return Corrector(
        id=id, name=name, role=role, factor=factor, back_focus_mm=back, image_circle_mm=circle, sky_side=ends[0],
        sensor_side=ends[1], min_focal_length_mm=focal[0], max_focal_length_mm=focal[1], min_focal_ratio=ratio[0],
        max_focal_ratio=ratio[1], mass_g=mass, optical_length_mm=length, status="listed", **more,
    )  # fmt: skip


CLIP = "clip-in, reflex mirror box"


def _modes(noise: float, cooled: bool) -> tuple[ReadMode, ...]:
    """Two settings: the deep well, and the quiet one."""
    if cooled:
        deep, quiet = (
            ReadMode(gain=0, read_noise_e=3.4, e_per_adu=0.8),
            ReadMode(gain=100, read_noise_e=noise, e_per_adu=0.26),
        )
    else:
        deep, quiet = (
            ReadMode(gain=400, read_noise_e=round(noise * 1.6, 1), e_per_adu=1.6),
            ReadMode(gain=800, read_noise_e=noise, e_per_adu=0.8),
        )
    return deep, quiet


def _camera(
    id: str, name: str, px: tuple[int, int], pixel: float, colour: Any, flange: float, front: Connector, mass: float,
    body: tuple[float, float], **more: Any,
) -> Camera:  # fmt: skip
    sensor = Sensor(
        width_px=px[0], height_px=px[1], pixel_um=pixel, colour=colour, bit_depth=more.pop("bits", 14),
        quantum_efficiency=more.pop("qe", 0.8), full_well_e=more.pop("well", 50_000),
        # Cooled to its set point, or at a night's warmth: it doubles every 6 K (common practice).
        dark_e_per_s=0.002 if "cooling_delta_k" in more else 0.03,
        dark_at_c=-10 if "cooling_delta_k" in more else 5,
        modes=_modes(more.pop("noise", 1.6), "cooling_delta_k" in more),
    )  # fmt: skip
    if "driven_by" not in more:
        more["driven_by"] = "computer"
    return Camera(
        id=id, name=name, sensor=sensor, flange_to_sensor_mm=flange, sky_side=front, mass_g=mass, status="listed",
        body_length_mm=body[0], outer_diameter_mm=body[1],
        frame_mb=round(px[0] * px[1] * 2 / 1e6, 1), **more,
    )  # fmt: skip


def _ring(size: str, length: float) -> Adapter:
    short = size.split("x")[0]
    return Adapter(
        id=f"ring-{short.lower()}-{length:g}".replace(".", "-"), name=f"{length:g} mm {short} ring", function="spacer",
        optical_length_mm=length, sky_side=female(size), sensor_side=male(size), mass_g=round(3 + length * 1.6),
        outer_diameter_mm=float(short[1:]) + 5, status="listed",
    )  # fmt: skip


def _adapter(
    id: str, name: str, function: Any, length: float, sky: Connector, sensor: Connector, mass: float, diameter: float
) -> Adapter:
    return Adapter(
        id=id, name=name, function=function, optical_length_mm=length, sky_side=sky, sensor_side=sensor, mass_g=mass,
        outer_diameter_mm=diameter, status="listed",
    )  # fmt: skip


def _filter(id: str, name: str, use: Any, *bands: tuple[float, float], size: str = M48) -> Filter:
    return Filter(
        id=id, name=name, use=use, size=size, thickness_mm=2.0, mass_g=18, status="listed",
        passbands=tuple(Passband(centre_nm=c, width_nm=w) for c, w in bands),
    )  # fmt: skip


def _telescopes() -> list[Telescope]:
    need = {"needs_corrector": True}
    two = socket("2in")
    return [
        _scope("petzval-51", "51 mm f/4.9 petzval", 51, 250, "petzval", 44, (205, 64), 70, 40, 2100, female(M54)),
        _scope("doublet-61", "61 mm f/5.9 doublet", 61, 360, "doublet", 34, (245, 80), 120, 65, 1700, female(M54), **need),
        _scope("doublet-72", "72 mm f/5.8 doublet", 72, 420, "doublet", 36, (300, 90), 130, 70, 2300, two, **need),
        _scope("triplet-80", "80 mm f/6 triplet", 80, 480, "triplet", 40, (350, 100), 140, 75, 3400, female(M63), **need),
        _scope("triplet-86", "86 mm f/5.4 triplet", 86, 464, "triplet", 42, (410, 108), 127, 70, 4200, female(M63), carries=5, **need),
        _scope("doublet-102", "102 mm f/7 doublet", 102, 714, "doublet", 42, (560, 124), 160, 85, 4600, two, **need),
        _scope("doublet-120", "120 mm f/7 doublet", 120, 840, "doublet", 44, (670, 145), 170, 90, 6800, two, **need),
        _scope("newtonian-130", "130 mm f/5 newtonian", 130, 650, "newtonian", 24, (600, 160), 85, 40, 3900, two,
               obstruction_mm=47, tube_material="steel", **need),
        _scope("newtonian-150", "150 mm f/5 newtonian", 150, 750, "newtonian", 26, (690, 182), 52, 38, 5600, two,
               obstruction_mm=55, tube_material="steel", height=85, carries=2.5, tube_side=flange("98 mm", "male"), **need),
        _scope("newtonian-200", "200 mm f/4 newtonian", 200, 800, "newtonian", 30, (740, 232), 95, 45, 9200, two,
               obstruction_mm=70, tube_material="steel", **need),
        _scope("ritchey-200", "200 mm f/8 mirror telescope", 200, 1600, "ritchey_chretien", 30, (460, 235), 120, 50,
               7800, female(M63), obstruction_mm=88, tube_material="carbon", carries=4),
        _scope("schmidt-203", "203 mm f/10 mirror telescope", 203, 2030, "schmidt_cassegrain", 38, (430, 232), 140, 30,
               5700, male("2in-24tpi"), obstruction_mm=70, mechanism="moving_mirror", back_focus_mm=120, growth_per_mm=3.1, **need),
        _scope("maksutov-127", "127 mm f/12 maksutov", 127, 1500, "maksutov", 22, (330, 146), 120, 30, 3500,
               socket("1.25in"), obstruction_mm=40, mechanism="moving_mirror"),
        _lens("lens-24", 24, 2, 90, 76, 580),
        _lens("lens-50", 50, 2, 55, 70, 290),
        _lens("lens-85", 85, 2, 85, 80, 480),
        _lens("lens-135", 135, 2.8, 112, 82, 900),
        _lens("lens-180", 180, 4, 132, 76, 880),
    ]  # fmt: skip


def _correctors() -> list[Corrector]:
    m63, m48, two = (male(M63), male(M48)), (male(M54), male(M48)), (tube("2in"), male(M48))
    none = (None, None)
    return [
        _corrector("flattener-m63", "×1.0 flattener, M63", "flattener", 1.0, 55, 44, m63, (380, 620), (5, 7.5), 420, 36),
        _corrector("reducer-08-m63", "×0.8 reducer, M63", "reducer", 0.8, 55, 42, m63, (400, 620), (5.2, 7), 480, 42),
        _corrector("reducer-075-m63", "×0.75 reducer for slow mirrors, M63", "reducer", 0.75, 80, 30, m63, (1200, 2400),
                   (7, 9), 390, 30),
        _corrector("flattener-m54", "×1.0 flattener, M54", "flattener", 1.0, 55, 43, m48, (320, 440), (5.5, 6.5), 330, 30),
        _corrector("reducer-085-2in", "×0.85 reducer, 2-inch", "reducer", 0.85, 55, 40, two, (380, 900), (5.5, 7.5), 360,
                   24, inside_drawtube=True),
        _corrector("coma-10", "×1.0 coma corrector, 2-inch", "coma_corrector", 1.0, 55, 44, two, none, (3.8, 6), 390, 26,
                   inside_drawtube=True),
        _corrector("coma-095", "×0.95 coma corrector, 2-inch", "coma_corrector", 0.95, 55, 40, two, none, (4, 6), 310, 22,
                   inside_drawtube=True),
        _corrector("reducer-063", "×0.63 reducer, 2-inch thread", "reducer", 0.63, 105, 26,
                   (female("2in-24tpi"), male("2in-24tpi")), (1200, 2900), (9, 11), 250, 28),
        _corrector("extender-2", "×2 extender, 1.25-inch", "extender", 2.0, 60, 20, (tube("1.25in"), male(M42)), none,
                   none, 110, 60),
        _corrector("extender-16", "×1.6 extender, 2-inch", "extender", 1.6, 75, 36, (tube("2in"), male(M48)), none, none,
                   290, 50),
    ]  # fmt: skip


def _cameras() -> list[Camera]:
    ring = CameraRing(length_mm=11)
    dslr = Connector(family="bayonet", size="dslr-44.0", gender="body")
    slim = Connector(family="bayonet", size="mirrorless-18", gender="body")
    wide = Connector(family="bayonet", size="mirrorless-20", gender="body")
    body = {"driven_by": "release", "battery_hours": 4, "qe": 0.65}
    cooled = {"cooling_delta_k": 35, "bits": 16, "power": twelve(20, 36)}
    return [
        _camera("colour-18", "cooled colour camera, 18.2 × 13.7 mm, 3.5 µm", (5200, 3900), 3.5, "one_shot", 6.5,
                female(M42), 480, (95, 78), front_ring=ring, **cooled),
        _camera("mono-17", "cooled mono camera, 17.5 × 13.3 mm, 3.8 µm", (4600, 3500), 3.8, "mono", 6.5, female(M42), 460,
                (92, 78), front_ring=ring, **cooled),
        _camera("colour-aps", "cooled colour camera, 23.6 × 15.7 mm, 3.8 µm", (6200, 4140), 3.8, "one_shot", 6.5,
                female(M48), 700, (110, 90), front_ring=ring, **cooled),
        _camera("mono-aps", "cooled mono camera, 23.6 × 15.7 mm, 3.8 µm", (6200, 4140), 3.8, "mono", 6.5, female(M48),
                720, (110, 90), front_ring=ring, **cooled),
        _camera("colour-full", "cooled colour camera, 36 × 24 mm, 3.8 µm", (9480, 6320), 3.8, "one_shot", 17.5,
                female(M54), 920, (120, 100), **cooled),
        _camera("mono-square", "cooled mono camera, 11.4 × 11.4 mm, 3.8 µm", (3000, 3000), 3.8, "mono", 6.5, female(M42),
                420, (88, 78), front_ring=ring, **cooled),
        _camera("dslr-aps", "reflex body, 23.4 × 15.6 mm, 3.9 µm", (6000, 4000), 3.9, "one_shot", 44.0, dslr, 520,
                (75, 100), spectral_cut="stock", clip_in=CLIP, **body),
        _camera("dslr-full", "reflex body, 36 × 24 mm, 6 µm", (6000, 4000), 6.0, "one_shot", 44.0, dslr, 780, (78, 110),
                spectral_cut="stock", noise=3.2, clip_in=CLIP, **body),
        _camera("slim-aps", "mirrorless body, 23.4 × 15.6 mm, 3.9 µm", (6000, 4000), 3.9, "one_shot", 18.0, slim, 410,
                (60, 95), spectral_cut="hydrogen_extended", noise=1.2, **body),
        _camera("slim-full", "mirrorless body, 36 × 24 mm, 6 µm", (6000, 4000), 6.0, "one_shot", 20.0, wide, 640,
                (65, 100), spectral_cut="stock", **body),
        _camera("planet-58", "planetary camera, 5.8 × 3.5 mm, 2.9 µm", (2000, 1200), 2.9, "one_shot", 12.5, female(M42),
                120, (60, 62), bits=12, video_fps=150),
        _camera("planet-72", "planetary camera, 7.2 × 5 mm, 2.4 µm", (3000, 2100), 2.4, "one_shot", 12.5, female(M42),
                120, (60, 62), bits=12, video_fps=60),
        _camera("guide-48", "guide camera, 4.8 × 3.6 mm, 3.7 µm", (1300, 980), 3.7, "mono", 8.5, tube("1.25in"), 90,
                (70, 36), bits=12, nose_mm=25),
    ]  # fmt: skip


def _rings() -> list[Part]:
    return [
        *(_ring(M48, length) for length in (0.5, 0.7, 1, 3, 5, 7.5, 10, 12.5, 16.5, 20, 21)),
        *(_ring(M42, length) for length in (0.5, 1, 2, 5, 6, 10, 15, 20)),
        *(_ring(M54, length) for length in (10, 20)),
        _adapter("m63-m54", "M63 to M54 converter", "converter", 3, female(M63), male(M54), 30, 70),
        _adapter("m63m-m48", "M63 to M48 rear plate", "converter", 6, male(M63), male(M48), 52, 72),
        _adapter("m54-m48", "M54 to M48 converter", "converter", 2, female(M54), male(M48), 20, 60),
        _adapter("tpi-m48", "2-inch rear thread to M48", "converter", 10, female("2in-24tpi"), male(M48), 60, 62),
        _adapter("m48-m42", "M48 to M42 converter", "converter", 1, female(M48), male(M42), 14, 54),
        Adapter(id="varies-m48", name="15 to 20 mm adjustable M48 ring", function="spacer", optical_length_mm=15,
                optical_length_max_mm=20, sky_side=female(M48), sensor_side=male(M48), mass_g=75, outer_diameter_mm=60,
                length_tolerance_mm=0.1, status="listed"),
        _adapter("turn-m48", "M48 turning ring, three screws", "turning_ring", 7, female(M48), male(M48), 60, 66),
        _adapter("flange-98-80", "flange adapter, 98 to 80 mm", "flange_adapter", 5, flange("98 mm", "female"),
                 flange("80 mm", "male"), 140, 110),
        FocuserPart(id="focuser-low", name="low focuser, 2-inch, 55 mm high", optical_length_mm=55, travel_mm=32,
                    load_limit_kg=3.5, sky_side=flange("80 mm", "female"), sensor_side=socket("2in"), mass_g=680,
                    outer_diameter_mm=90, status="listed"),
        _adapter("rotator-m48", "M48 rotator", "rotator", 11, female(M48), male(M48), 120, 76),
        _adapter("tilt-m48", "M48 tilt plate", "tilt_plate", 8, female(M48), male(M48), 95, 78),
        _adapter("nose-2-m48", "2-inch nosepiece to M48", "nosepiece", 3, tube("2in"), male(M48), 70, 54),
        _adapter("nose-125-m42", "1.25-inch nosepiece to M42", "nosepiece", 3, tube("1.25in"), male(M42), 40, 44),
        _adapter("dslr-m48", "11 mm reflex camera ring, M48", "camera_ring", 11, female(M48),
                 Connector(family="bayonet", size="dslr-44.0", gender="lens"), 60, 66),
        _adapter("dslr-m42", "11 mm reflex camera ring, M42", "camera_ring", 11, female(M42),
                 Connector(family="bayonet", size="dslr-44.0", gender="lens"), 55, 66),
        _adapter("slim-m48", "37 mm mirrorless camera ring, M48", "camera_ring", 37, female(M48),
                 Connector(family="bayonet", size="mirrorless-18", gender="lens"), 110, 64),
        _adapter("slim-dslr", "26 mm mirrorless adapter for reflex lenses", "converter", 26,
                 Connector(family="bayonet", size="dslr-44.0", gender="body"),
                 Connector(family="bayonet", size="mirrorless-18", gender="lens"), 120, 70),
    ]  # fmt: skip


def _holders_and_filters() -> list[Part]:
    prism = Prism(width_mm=8, height_mm=8, centre_to_sensor_side_mm=8, stalk_mm=18, edge_mm=14, reach_mm=6)
    thin = "M28.5x0.6"
    return [
        FilterHolder(id="drawer-21", name="21 mm filter drawer", style="drawer", filter_size=M48, optical_length_mm=21,
                     sky_side=female(M48), sensor_side=male(M42), mass_g=180, outer_diameter_mm=82, status="listed"),
        FilterHolder(id="wheel-7", name="7 × 1.25-inch filter wheel", style="wheel", positions=7, filter_size=thin,
                     optical_length_mm=20, sky_side=female(M42), sensor_side=male(M42), mass_g=390,
                     outer_diameter_mm=150, status="listed"),
        FilterHolder(id="wheel-5", name="5 × 2-inch filter wheel", style="wheel", positions=5, filter_size=M48,
                     optical_length_mm=21, sky_side=female(M54), sensor_side=male(M54), mass_g=620,
                     outer_diameter_mm=200, status="listed"),
        FilterHolder(id="cell-m48", name="M48 filter cell", style="threaded_cell", filter_size=M48, optical_length_mm=5,
                     sky_side=female(M48), sensor_side=male(M48), mass_g=25, outer_diameter_mm=54, status="listed"),
        OffAxisGuider(id="guider-165", name="16.5 mm off-axis guider, M48", prism=prism, optical_length_mm=16.5,
                      helical_range_mm=9, sky_side=female(M48), sensor_side=male(M42), guide_port=socket("1.25in"),
                      mass_g=240, outer_diameter_mm=74, status="listed"),
        OffAxisGuider(id="guider-29", name="29 mm off-axis guider, M54", prism=prism, optical_length_mm=29,
                      helical_range_mm=12, sky_side=female(M54), sensor_side=male(M54), guide_port=socket("1.25in"),
                      mass_g=330, outer_diameter_mm=86, status="listed"),
        _filter("dual-7", "dual-narrowband filter, 7 nm", "dual_line", (656.3, 7), (500.7, 7)),
        _filter("dual-clip", "clip-in dual-narrowband filter, 7 nm", "dual_line", (656.3, 7), (500.7, 7), size=CLIP),
        _filter("suppress", "broadband light-pollution filter", "broadband_suppression", (500, 90), (650, 60)),
        _filter("uvir", "UV/IR-cut filter", "uv_ir_cut", (550, 290)),
        _filter("lum-125", "luminance filter, 1.25-inch", "luminance", (550, 290), size=thin),
        _filter("red-125", "red filter, 1.25-inch", "red", (640, 100), size=thin),
        _filter("green-125", "green filter, 1.25-inch", "green", (530, 90), size=thin),
        _filter("blue-125", "blue filter, 1.25-inch", "blue", (450, 100), size=thin),
        _filter("ha-125", "Hα filter, 6 nm, 1.25-inch", "h_alpha", (656.3, 6), size=thin),
        _filter("oiii-125", "OIII filter, 6 nm, 1.25-inch", "oiii", (500.7, 6), size=thin),
    ]  # fmt: skip


@lru_cache(maxsize=1)
def starter_shelf() -> tuple[Part, ...]:
    """All starter parts, each with a stable id; their status is ``listed``, since nobody owns them yet."""
    return (*_telescopes(), *_correctors(), *_cameras(), *_rings(), *_holders_and_filters(), *starter_gear())


def part(part_id: str, **changes: Any) -> Any:
    """One starter part by id, with fields changed. Raises `KeyError`."""
    result = {entry.id: entry for entry in starter_shelf()}[part_id]
    return type(result).model_validate({**result.model_dump(), **changes})
