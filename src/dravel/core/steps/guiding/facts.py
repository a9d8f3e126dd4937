"""Guide facts of a rig, gathered once and only when asked for; and the same for the methods it does not use."""

from dataclasses import dataclass
from functools import cached_property
from math import cos, degrees, hypot, pi, radians, sqrt

from dravel.core.engine.context import Context
from dravel.core.engine.known import Known
from dravel.core.model import Camera, GuideScope, Mount, OffAxisGuider, Preferences, Rig
from dravel.core.model.words import Value, Words, text
from dravel.core.physics import tracking
from dravel.core.physics.optics import SIDEREAL_ARCSEC_PER_S, diffraction_fwhm_arcsec, pixel_scale
from dravel.core.sky.night import extinction_at
from dravel.core.sky.star_counts import (
    PLAIN_NOISE_E,
    PLAIN_QE,
    USABLE_SNR,
    Eye,
    brightest_expected,
    centroid_arcsec,
    expected_stars,
    galactic_latitude,
)
from dravel.core.train.facts import Spacing
from dravel.core.train.lenses import factor_of
from dravel.core.train.stiffness import PLAIN_LATITUDE_DEG

# Flexure between guide star and sensor, ″/h. Dravel's own orders of magnitude: they differ from rig to rig tenfold.
FLEXURE = {"off_axis": 0.3, "bolted": 4.0, "rings": 6.0, "shoe": 12.0}
MOVING_MIRROR = 20.0
# What a drive leaves between corrections beside the worm's sine: its higher harmonics and roughness as a share of the
# periodic error, and play when declination turns round, ″. Dravel's own orders of magnitude.
ROUGHNESS = {"worm": 0.02, "belt": 0.018, "friction": 0.02, "strain_wave": 0.012}
BACKLASH = {"worm": 0.3, "belt": 0.1, "friction": 0.0, "strain_wave": 0.0}
# Blur of the guide optics at the guide sensor, µm, and the light that passes: small lenses are simple, a prism sees the
# edge of the field and only part of the beam. Dravel's own orders of magnitude.
BLUR_UM = {"guide_scope": 6.0, "off_axis": 10.0}
THROUGH = {"guide_scope": 0.75, "off_axis": 0.5}
TURN_ALTITUDE_DEG = 60.0  # where a target is taken to stand for the turn of the field. Dravel's own.
PLAIN_LATITUDE = 30.0  # half of the sky lies nearer to the galactic plane


OWN_ORDER = "estimate (order of magnitude)"
Term = tuple[str, float, Words]  # name, RMS in arcseconds, what it is made of


@dataclass(frozen=True)
class Setup:
    """One way to guide: what looks, through what, at which patch."""

    method: str
    scope: str
    camera: Camera
    focal_length_mm: float
    aperture_mm: float
    area_mm2: float
    patch_deg: tuple[float, float]
    flexure_arcsec_h: float

    @property
    def scale(self) -> float:
        """Guide scale, ″/px."""
        return pixel_scale(self.camera.sensor.pixel_um, self.focal_length_mm)

    @property
    def patch_deg2(self) -> float:
        """Area of the patch it sees."""
        return self.patch_deg[0] * self.patch_deg[1]


@dataclass(frozen=True)
class Guiding:
    """How the rig is guided, and what comes of it."""

    rig: Rig
    known: Known
    spacing: Spacing
    preferences: Preferences

    @classmethod
    def of(cls, context: Context) -> "Guiding":
        """The guiding of a rig."""
        return cls(context.rig, context.known, context.of(Spacing), context.preferences)

    @cached_property
    def camera(self) -> Camera | None:
        """The guide camera of the rig."""
        return next((item.part for item in self.rig.guide.branch if isinstance(item.part, Camera)), None)

    @cached_property
    def scope(self) -> GuideScope | None:
        """The guide scope that rides along."""
        return next((p.part for p in self.rig.riders if isinstance(p.part, GuideScope) and not p.off_at_night), None)

    @cached_property
    def guider(self) -> OffAxisGuider | None:
        """The off-axis guider in the path."""
        return next((item.part for item in self.rig.path if isinstance(item.part, OffAxisGuider)), None)

    @cached_property
    def setup(self) -> tuple[Setup | None, str]:
        """How the rig is guided now, or why not."""
        method = self.rig.guide.method
        if method == "none":
            return None, "guiding off"
        if self.camera is None:
            return None, "no guide camera"
        if method == "guide_scope":
            return (self.by_scope(self.scope, self.camera), "") if self.scope else (None, "no guide scope")
        if self.guider is None:
            return None, "no OAG in the light path"
        made = self.by_guider(self.guider, self.camera)
        return made, "" if made else "focal length unknown"

    @property
    def mirror_moves(self) -> bool:
        """Whether the telescope focuses by moving its mirror."""
        return self.spacing.mirror_moves

    def by_scope(self, scope: GuideScope, camera: Camera) -> Setup:
        """Guiding through a scope of its own."""
        sensor, focal = camera.sensor, scope.used("focal_length_mm") or scope.focal_length_mm
        flexure = FLEXURE[scope.mounting] + (MOVING_MIRROR if self.mirror_moves else 0.0)
        patch = degrees_of(sensor.width_mm, focal), degrees_of(sensor.height_mm, focal)
        aperture = scope.used("aperture_mm") or scope.aperture_mm
        return Setup("guide_scope", scope.name, camera, focal, aperture, pi / 4 * aperture**2, patch, flexure)

    def by_guider(self, guider: OffAxisGuider, camera: Camera) -> Setup | None:
        """Guiding through the main telescope by a prism; None when its focal length or aperture is not known."""
        if "focal_length" not in self.known or "aperture" not in self.known:
            return None
        focal, aperture = self.known.value("focal_length") / self._behind_the_prism, self.known.value("aperture")
        telescope = self.spacing.light.telescope
        blocked = telescope.blocked_share * aperture if telescope else 0.0
        wide = min(guider.prism.width_mm, camera.sensor.width_mm)
        high = min(guider.prism.height_mm, camera.sensor.height_mm)
        patch = degrees_of(wide, focal), degrees_of(high, focal)
        area = pi / 4 * (aperture**2 - blocked**2)
        return Setup("off_axis", guider.name, camera, focal, aperture, area, patch, FLEXURE["off_axis"])

    @cached_property
    def _behind_the_prism(self) -> float:
        """Factor of the correctors that stand behind the prism: the guide camera does not look through them."""
        laid, result = self.spacing.train.guider, self.spacing.lenses
        if laid is None or not result:
            return 1.0
        return factor_of(tuple(lens for lens in result if lens.index > laid.index))

    @cached_property
    def latitude(self) -> tuple[float, str]:
        """Galactic latitude of the hardest target, or a plain one."""
        results = [
            (abs(galactic_latitude(f.target.ra_deg, f.target.dec_deg)), f.target.name) for f in self.rig.framings
        ]
        return max(results) if results else (PLAIN_LATITUDE, "no target")

    @cached_property
    def nearest_pole(self) -> tuple[float, str]:
        """How far from the equator the target lies whose field a polar error turns most, degrees, and its name."""
        result = ((abs(f.target.dec_deg), f.target.name) for f in self.rig.framings)
        return max(result, default=(0.0, "no target"))

    @cached_property
    def nearest_equator(self) -> float:
        """How far from the equator the target lies that runs fastest over a fixed sensor, degrees."""
        return min((abs(f.target.dec_deg) for f in self.rig.framings), default=0.0)

    def eye(self, setup: Setup) -> Eye:
        """The guide camera at its exposure under this sky."""
        sensor = setup.camera.sensor
        seeing = self.known.value("seeing_at_airmass")
        noise = sensor.modes[0].read_noise_e if sensor.modes else PLAIN_NOISE_E
        sky = self.rig.site.sky_brightness if self.rig.site else 20.5
        return Eye(
            area_mm2=setup.area_mm2,
            scale_arcsec_px=setup.scale,
            fwhm_arcsec=hypot(seeing, setup.scale, *self.own_blur(setup)),
            exposure_s=self.rig.guide.exposure_s,
            sky_mag_arcsec2=sky,
            efficiency=sensor.quantum_efficiency or PLAIN_QE,
            read_noise_e=noise,
            through=THROUGH[setup.method],
            extinction_mag=extinction_at(self.preferences, self.rig.site) * self.preferences.assumed_airmass,
        )

    def own_blur(self, setup: Setup) -> tuple[float, float]:
        """What the guide optics add to a star: diffraction and their own blur, ″."""
        return diffraction_fwhm_arcsec(setup.aperture_mm), pixel_scale(BLUR_UM[setup.method], setup.focal_length_mm)

    def expected(self, setup: Setup, latitude: float) -> float:
        """Usable stars to expect in the patch: bright enough for a signal to noise of ten."""
        return expected_stars(self.eye(setup).limit(USABLE_SNR), latitude, *setup.patch_deg)

    def star_magnitude(self, setup: Setup, latitude: float) -> float:
        """The brightest star to expect, at best the camera's limit."""
        return min(brightest_expected(setup.patch_deg2, latitude), self.eye(setup).limit(USABLE_SNR))

    @property
    def sky_rate(self) -> float:
        """How fast the sky runs over a mount that drives no axis, ″/s; 0 where one is driven."""
        mount = self.rig.mount
        return SIDEREAL_ARCSEC_PER_S * cos(radians(self.nearest_equator)) if mount and mount.driven_axes == 0 else 0.0

    @property
    def undriven_rate(self) -> float:
        """Drift of an axis that no motor corrects, ″/s: the polar error's in declination, or the whole sky's."""
        mount = self.rig.mount
        if mount is None or mount.driven_axes >= 2:
            return 0.0
        return self.sky_rate or tracking.polar_drift_arcsec_s(self.preferences.polar_error_arcmin)

    @property
    def turn_rate(self) -> float:
        """How fast the field turns under an alt-azimuth mount, ″/s; 0 under one with a polar axis."""
        mount, site = self.rig.mount, self.rig.site
        if mount is None or mount.style != "alt_azimuth":
            return 0.0
        latitude = abs(site.latitude_deg) if site else PLAIN_LATITUDE_DEG
        return tracking.field_turn_arcsec_s(latitude, TURN_ALTITUDE_DEG)

    @cached_property
    def rates(self) -> tuple[float, float] | None:
        """Worst rate of the periodic error and of polar drift, ″/s; None without both figures of the mount."""
        periodic = self.periodic
        if periodic is None:
            return None
        # Without a polar axis there is none to be off.
        polar = 0.0 if self.turn_rate else self.preferences.polar_error_arcmin
        return tracking.worst_rate_arcsec_s(*periodic), tracking.polar_drift_arcsec_s(polar)

    @cached_property
    def periodic(self) -> tuple[float, float] | None:
        """The mount's periodic error, peak to peak in ″, and its period in s."""
        return _periodic(self.rig.mount) if self.rig.mount else None

    def corrected(self, setup: Setup | None) -> Setup | None:
        """The way to guide as far as it reaches the mount: none where the mount takes no corrections or does not run."""
        mount = self.rig.mount
        return None if mount is None or mount.guide_input == "none" or mount.driven_axes == 0 else setup

    def mount_terms(self, mount: Mount, setup: Setup) -> tuple[Term, ...]:
        """What a mount leaves between corrections: its own guided RMS, else what its drive is known to leave."""
        own = mount.used("guided_rms_arcsec")
        if own is not None:
            return (("mount", own, text("{mount}, guided", mount=mount.name)),)
        periodic = _periodic(mount)
        if periodic is None:
            return (("mount", self.preferences.guiding_rms_arcsec, "Preferences (mount: not specified)"),)
        exposure = self.rig.guide.exposure_s
        drive = mount.drive.replace("_", " ")
        seeing = self.known.value("seeing_at_airmass")
        jitter = tracking.seeing_jitter_arcsec(seeing, setup.aperture_mm, exposure)
        terms: list[Term] = [
            ("periodic error", tracking.residual_arcsec(*periodic, exposure), "residual after corrections"),
            (
                "roughness",
                ROUGHNESS[mount.drive] * periodic[0],
                text("{drive}'s harmonics; {OWN_ORDER}", drive=drive, OWN_ORDER=OWN_ORDER),
            ),
            ("seeing", jitter, text("in {exposure} guide exposures", exposure=Value(exposure, form="exposure"))),
        ]
        if BACKLASH[mount.drive] and mount.driven_axes > 1:
            terms.append(
                (
                    "backlash",
                    BACKLASH[mount.drive],
                    text("{drive}, in declination; {OWN_ORDER}", drive=drive, OWN_ORDER=OWN_ORDER),
                )
            )
        floor, result = self.preferences.guiding_floor_arcsec, hypot(*(value for _, value, _ in terms))
        if result < floor:
            terms.append(
                (
                    "unmeasured",
                    sqrt(floor**2 - result**2),
                    text("up to the minimum from Preferences, {floor}", floor=Value(floor, "″")),
                )
            )
        return tuple(terms)

    def terms(self, setup: Setup | None) -> tuple[Term, ...]:
        """The error budget per axis: name, RMS in arcseconds, and what it is made of."""
        mount, sub = self.rig.mount, self.rig.guide.sub_s
        if mount is None:
            return ()
        error = text(
            "{polar_error_arcmin} off over {sub}",
            polar_error_arcmin=Value(self.preferences.polar_error_arcmin, "′"),
            sub=Value(sub, form="exposure"),
        )
        if self.sky_rate:
            return (
                (
                    "sky",
                    tracking.drift_rms_arcsec(self.sky_rate, sub),
                    text("no axis driven, {sub}", sub=Value(sub, form="exposure")),
                ),
            )
        setup = self.corrected(setup)
        if setup is None:
            if self.rates is None or self.periodic is None:
                return ()
            rate, drift = self.rates
            swing = min(tracking.drift_rms_arcsec(rate, sub), self.periodic[0] / 2 / 2**0.5)
            return (
                (
                    "periodic error",
                    swing,
                    text(
                        "{periodic} in {periodic_2}, uncorrected",
                        periodic=Value(self.periodic[0], "″", 0),
                        periodic_2=Value(self.periodic[1], form="exposure"),
                    ),
                ),
                ("polar drift", tracking.drift_rms_arcsec(drift, sub), error),
            )
        magnitude = self.star_magnitude(setup, self.latitude[0])
        eye = self.eye(setup)
        middle = centroid_arcsec(eye.fwhm_arcsec, eye.signal_to_noise(magnitude))
        flexure = tracking.drift_rms_arcsec(setup.flexure_arcsec_h / 3600, sub)
        drifts = self.undriven_rate
        undriven = (
            "declination drift",
            tracking.drift_rms_arcsec(drifts, sub),
            text("not driven, {error}", error=error),
        )
        return (
            *self.mount_terms(mount, setup),
            *((undriven,) if drifts else ()),
            (
                "centroid",
                middle,
                text(
                    "mag {magnitude}, {exposure_s}",
                    magnitude=Value(magnitude, digits=1),
                    exposure_s=Value(eye.exposure_s, form="exposure"),
                ),
            ),
            (
                "flexure",
                flexure,
                text(
                    "{flexure_arcsec_h} over {sub}; {OWN_ORDER}",
                    flexure_arcsec_h=Value(setup.flexure_arcsec_h, "″"),
                    sub=Value(sub, form="exposure"),
                    OWN_ORDER=OWN_ORDER,
                ),
            ),
        )

    def total(self, setup: Setup | None) -> float | None:
        """RMS per axis, all terms in quadrature, ″; None without a mount."""
        terms = self.terms(setup)
        return hypot(*(value for _, value, _ in terms)) if terms else None

    def longest_sub_s(self, setup: Setup | None) -> float | None:
        """Longest sub with a way to guide, or with none, s; None where something it needs is not known."""
        known = self.known
        if self.rig.mount is None or any(
            name not in known for name in ("pixel_scale", "pixel", "focal_length", "corner_angle")
        ):
            return None
        scale, setup = known.value("pixel_scale"), self.corrected(setup)
        if setup is None:
            return known.get("guiding.unguided_limit_s")
        corner = self.corner_deg(setup.method) or 0.0
        if self.turn_rate:
            turn = tracking.field_turn_limit_s(
                known.value("pixel"), known.value("focal_length"), corner, self.turn_rate
            )
            return tracking.turning_limit_s(scale, setup.flexure_arcsec_h, self.undriven_rate, turn)
        return tracking.guided_limit_s(
            scale, setup.flexure_arcsec_h, known.value("pixel"), self.nearest_pole[0], known.value("focal_length"),
            corner, self.preferences.polar_error_arcmin, self.undriven_rate,
        )  # fmt: skip

    def corner_deg(self, method: str) -> float | None:
        """How far the sensor's corner lies from the guide star, degrees; None where the field is not known."""
        if "sensor_diagonal" not in self.known or "focal_length" not in self.known:
            return None
        corner = degrees_of(self.known.value("sensor_diagonal"), self.known.value("focal_length")) / 2
        # Off-axis the guide star lies outside the sensor: the far corner is a whole diagonal away.
        return corner * (2 if method == "off_axis" else 1)


def _periodic(mount: Mount) -> tuple[float, float] | None:
    error, period = mount.used("periodic_error_arcsec"), mount.used("worm_period_s")
    return None if error is None or period is None else (error, period)


def degrees_of(length_mm: float, focal_length_mm: float) -> float:
    """Small-angle field of a length at a focal length, degrees."""
    return degrees(length_mm / focal_length_mm)
