"""Stars of a frame: found, and each with its width, elongation and direction, the pixel's own width taken off.

Sources are found by `sep`; shapes come from a Moffat profile fitted to each, with one steepness for all stars of a frame.
"""

from dataclasses import dataclass
from math import pi

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Pixels = NDArray[np.float32]

BOX = 128  # of the background, px
SIGMAS, LEAST_AREA, DEBLEND = 5.0, 5, 0.005
MOST_FITTED = 400
LEAST_SNR = 50.0  # of a star whose shape is believed
EDGE = 3  # FWHM that a star keeps from the edge
GAUSS, SMALL = 0.2886751, 4.5  # px: smaller stars are fitted over whole pixels
PIXEL2 = 8 * np.log(2) / 12  # a pixel's width as FWHM², px²: variance 1/12
BETAS = (1.6, 2.0, 2.5, 3.0, 3.6, 4.5, 6.0)
FOR_BETA = 30
ROUNDS, CHUNK = 9, 60
HOT = 1.15  # a star's light falls off at least so slowly: narrower than the pixel is no star


@dataclass(frozen=True)
class Sources:
    """Stars of a frame, brightest first: place in pixels from the first pixel's middle (x to the right, y down), flux and peak in
    the frame's units above the sky, and the FWHM² matrix in px², (n, 2, 2), NaN where no shape could be fitted. `found` counts
    all sources, `saturated` those at the top of the scale.
    """

    x: Floats
    y: Floats
    flux: Floats
    peak: Floats
    snr: Floats
    shapes: Floats
    found: int
    saturated: int
    sky: float
    noise: float
    beta: float

    @property
    def fwhm(self) -> Floats:
        """Geometric mean of both axes, px, (n,)."""
        with np.errstate(invalid="ignore"):  # those without a shape stay without a width
            return np.asarray(np.sqrt(np.sqrt(np.maximum(np.linalg.det(self.shapes), 0))))


class NoStars(ValueError):
    """There is nothing in the frame that could be measured."""


def axes(shapes: Floats) -> tuple[Floats, Floats, Floats]:
    """Long and short FWHM in px and the long axis' angle in degrees (from x towards y, 0 to 180) of FWHM² matrices, (n,)."""
    a, b, c = shapes[:, 0, 0], shapes[:, 0, 1], shapes[:, 1, 1]
    mean, half = (a + c) / 2, np.hypot((a - c) / 2, b)
    angle = np.degrees(0.5 * np.arctan2(2 * b, a - c)) % 180
    return np.sqrt(np.maximum(mean + half, 0)), np.sqrt(np.maximum(mean - half, 0)), angle


def find(data: Pixels, saturation: float, green: "NDArray[np.bool_] | None" = None) -> Sources:
    """Stars of a frame. `saturation`: the value from which a pixel is full. `green`: of a mosaic, which pixels are (so stars are
    found on them alone and fitted to them alone; nothing is interpolated into the fit). The data are used up: the sky is taken off
    them in place, as a frame is large.

    Raises `NoStars` where nothing can be measured. Source of the method: Bertin & Arnouts 1996 (as `sep`), Moffat 1969.
    """
    import sep  # here: only what reads frames pays for it

    seen = data if green is None else _filled(data, green)
    if not np.isfinite(seen).all():
        seen = np.nan_to_num(seen, nan=float(np.nanmedian(seen)) if np.isfinite(seen).any() else 0.0)
    seen = np.ascontiguousarray(seen, dtype=np.float32)
    if min(seen.shape) < 3 * BOX // 4 or float(seen.max()) <= float(seen.min()):
        raise NoStars("the frame is too small or uniform: no stars found")
    sep.set_extract_pixstack(600_000)
    background = sep.Background(seen, bw=BOX, bh=BOX)
    noise = float(background.globalrms)
    if noise <= 0:
        raise NoStars("the frame has no noise at all: it is no light frame")
    background.subfrom(seen)
    # A mosaic's filled pixels are means of others: its noise is less than a pixel's.
    try:
        table = sep.extract(seen, SIGMAS * noise, minarea=LEAST_AREA, deblend_cont=DEBLEND)
    except Exception as error:  # the library tells of full buffers and the like in exceptions of its own
        raise NoStars(f"stars could not be separated: {error}") from None
    sky = float(background.globalback)
    full = table["peak"] >= 0.95 * (saturation - sky)
    if len(table) == 0:
        raise NoStars("no stars above the noise")
    return _shaped(seen, table, full, sky, noise, green)


def _filled(data: Pixels, green: "NDArray[np.bool_]") -> Pixels:
    """A mosaic with each pixel that is not green as the mean of its green neighbours: to find stars on, not to measure them. In
    place: no green pixel is changed, and only those are read.
    """
    high, wide = data.shape
    for row, column in ((0, 1), (1, 0)) if green[0, 0] else ((0, 0), (1, 1)):
        y, x = row or 2, column or 2  # the outermost pixels are left: no star is measured so near the edge
        mean = data[y - 1 : high - 2 : 2, x : wide - 1 : 2] + data[y + 1 : high : 2, x : wide - 1 : 2]
        mean += data[y : high - 1 : 2, x - 1 : wide - 2 : 2]
        mean += data[y : high - 1 : 2, x + 1 : wide : 2]
        mean *= np.float32(0.25)
        data[y : high - 1 : 2, x : wide - 1 : 2] = mean
    return data


def _shaped(
    seen: Pixels, table: "NDArray[np.void]", full: "NDArray[np.bool_]", sky: float, noise: float,
    green: "NDArray[np.bool_] | None",
) -> Sources:  # fmt: skip
    flux, peak = table["flux"].astype(float), table["peak"].astype(float)
    snr = flux / (noise * np.sqrt(np.maximum(table["npix"], 1)))
    guess = 2.3548 * np.sqrt(np.maximum(table["a"] * table["b"], 0.05))
    usual = float(np.median(guess[snr > np.median(snr)]))
    order = np.argsort(-flux)
    height, width = seen.shape
    edge = EDGE * max(usual, 2.0)
    inside = (table["x"] > edge) & (table["x"] < width - edge) & (table["y"] > edge) & (table["y"] < height - edge)
    good = ~full & inside & (snr > LEAST_SNR) & (table["flag"] == 0) & (peak * HOT < flux)
    if np.count_nonzero(good) < 8:
        good = ~full & inside & (snr > 15) & (peak * HOT < flux)
    fitted = order[good[order]][:MOST_FITTED]
    half = int(min(max(5, round(2.6 * usual)), 24))
    shapes = np.full((len(table), 2, 2), np.nan)
    beta = 3.0
    if len(fitted):
        beta = _steepness(seen, table, fitted[:FOR_BETA], half, usual, green)
        got, places, right = _fit(seen, table["x"][fitted], table["y"][fitted], half, usual, beta, green)
        shapes[fitted[right]] = got[right]
        table["x"][fitted[right]], table["y"][fitted[right]] = places[right, 0], places[right, 1]
    return Sources(
        x=table["x"][order].astype(float), y=table["y"][order].astype(float), flux=flux[order], peak=peak[order],
        snr=snr[order], shapes=shapes[order], found=len(table), saturated=int(full.sum()), sky=sky, noise=noise, beta=beta,
    )  # fmt: skip


def _steepness(
    seen: Pixels, table: "NDArray[np.void]", some: NDArray[np.int64], half: int, usual: float,
    green: "NDArray[np.bool_] | None",
) -> float:  # fmt: skip
    """The Moffat exponent that suits the brightest stars best."""
    left = []
    for beta in BETAS:
        _, _, right, rest = _fit(seen, table["x"][some], table["y"][some], half, usual, beta, green, rest=True)
        left.append(float(np.median(rest[right])) if right.any() else np.inf)
    best = int(np.argmin(left))
    if not np.isfinite(left[best]):
        return 3.0
    if 0 < best < len(BETAS) - 1:
        logs = np.log(BETAS[best - 1 : best + 2])
        bend = np.polyfit(logs, left[best - 1 : best + 2], 2)
        if bend[0] > 0:
            return float(np.exp(np.clip(-bend[1] / (2 * bend[0]), logs[0], logs[2])))
    return BETAS[best]


def _fit(  # type: ignore[no-untyped-def]
    seen: Pixels, xs: Floats, ys: Floats, half: int, usual: float, beta: float, green: "NDArray[np.bool_] | None",
    *, rest: bool = False,
):  # fmt: skip
    """Moffat profiles by Gauss and Newton with damping: FWHM² matrices less the pixel, places, and which came to rest.

    A star is A · (1 + q)^−β + B, q the squared distance by the matrix P: its FWHM² matrix is 4 (2^(1/β) − 1) P⁻¹.
    """
    count = len(xs)
    shapes, places, right, left = np.zeros((count, 2, 2)), np.zeros((count, 2)), np.zeros(count, bool), np.zeros(count)
    for part in np.array_split(np.arange(count), max(1, -(-count // CHUNK))):
        if len(part):
            shapes[part], places[part], right[part], left[part] = _fit_some(
                seen, xs[part], ys[part], half, usual, beta, green
            )
    return (shapes, places, right, left) if rest else (shapes, places, right)


def _fit_some(  # type: ignore[no-untyped-def]
    seen: Pixels, xs: Floats, ys: Floats, half: int, usual: float, beta: float, green: "NDArray[np.bool_] | None"
):  # fmt: skip
    column, line = np.rint(xs).astype(int), np.rint(ys).astype(int)
    at = np.arange(-half, half + 1)
    rows = np.clip(line[:, None] + at, 0, seen.shape[0] - 1)
    cols = np.clip(column[:, None] + at, 0, seen.shape[1] - 1)
    cut = seen[rows[:, :, None], cols[:, None, :]].astype(float).reshape(len(xs), -1)
    weight = (
        np.ones_like(cut) if green is None else green[rows[:, :, None], cols[:, None, :]].reshape(len(xs), -1) * 1.0
    )
    gx = np.broadcast_to(at[None, :], (len(at), len(at))).ravel().astype(float)
    gy = np.broadcast_to(at[:, None], (len(at), len(at))).ravel().astype(float)
    k = 4 * (2 ** (1 / beta) - 1)
    fine = GAUSS if usual < SMALL else 0.0
    start = k / usual**2
    top = np.where(weight > 0, cut, -np.inf).max(axis=1)
    # Height, ground, place, and the three of the matrix.
    p = np.stack(
        [top, np.zeros_like(top), xs - column, ys - line, *(np.full_like(top, v) for v in (start, 0.0, start))], 1
    )
    damp = np.full(len(xs), 1e-2)
    model, grad = _moffat(p, gx, gy, beta, fine)
    cost = (weight * (cut - model) ** 2).sum(1)
    for _ in range(ROUNDS):
        weighed = grad * weight[:, None, :]
        normal = weighed @ grad.transpose(0, 2, 1)
        push = (weighed @ (cut - model)[:, :, None])[:, :, 0]
        scale = np.einsum("nii->ni", normal).copy()
        normal[:, range(7), range(7)] += damp[:, None] * scale + 1e-12 * scale.max(1, keepdims=True)
        try:
            step = np.linalg.solve(normal, push[:, :, None])[:, :, 0]
        except np.linalg.LinAlgError:
            break
        tried = p + step
        sound = (
            (tried[:, 4] > 0) & (tried[:, 6] > 0) & (tried[:, 4] * tried[:, 6] > tried[:, 5] ** 2) & (tried[:, 0] > 0)
        )
        tried = np.where(sound[:, None], tried, p)
        new_model, new_grad = _moffat(tried, gx, gy, beta, fine)
        new_cost = (weight * (cut - new_model) ** 2).sum(1)
        better = sound & (new_cost <= cost)
        p = np.where(better[:, None], tried, p)
        model = np.where(better[:, None], new_model, model)
        grad = np.where(better[:, None, None], new_grad, grad)
        cost = np.where(better, new_cost, cost)
        damp = np.where(better, damp / 5, damp * 8)
    a, b, c = p[:, 4], p[:, 5], p[:, 6]
    det = np.maximum(a * c - b * b, 1e-12)
    shapes = np.stack([np.stack([c, -b], -1), np.stack([-b, a], -1)], -2) * (k / det)[:, None, None]
    if fine == 0:
        shapes[:, [0, 1], [0, 1]] -= PIXEL2
    small = np.minimum(shapes[:, 0, 0], shapes[:, 1, 1])
    near = (np.hypot(p[:, 2] - (xs - column), p[:, 3] - (ys - line)) < usual) & (small > 0.1)
    right = near & (np.sqrt(np.maximum(small, 0)) < 1.6 * half) & np.isfinite(shapes).all((1, 2))
    return shapes, np.stack([p[:, 2] + column, p[:, 3] + line], 1), right, cost / np.maximum((p[:, 0] ** 2) * pi, 1e-9)


def _moffat(p: Floats, gx: Floats, gy: Floats, beta: float, fine: float) -> tuple[Floats, Floats]:
    """Model (n, m) and its derivatives (n, 7, m): over each pixel by two Gauss points a side where stars are small (`fine`, half
    their distance, px), else at its middle.
    """
    if fine == 0:
        return _at_points(p, gx, gy, beta)
    model, grad = np.zeros((len(p), len(gx))), np.zeros((len(p), 7, len(gx)))
    for ex in (-fine, fine):
        for ey in (-fine, fine):
            item, slope = _at_points(p, gx + ex, gy + ey, beta)
            model, grad = model + item / 4, grad + slope / 4
    return model, grad


def _at_points(p: Floats, gx: Floats, gy: Floats, beta: float) -> tuple[Floats, Floats]:
    height, ground, x, y, a, b, c = (p[:, i][:, None] for i in range(7))
    dx, dy = gx - x, gy - y
    base = 1 + a * dx * dx + 2 * b * dx * dy + c * dy * dy
    base = np.maximum(base, 1e-6)
    shape = base**-beta
    slope = -beta * height * shape / base
    grad = np.stack(
        [
            shape, np.ones_like(shape), slope * -2 * (a * dx + b * dy), slope * -2 * (b * dx + c * dy), slope * dx * dx,
            slope * 2 * dx * dy, slope * dy * dy,
        ],
        axis=1,
    )  # fmt: skip
    return height * shape + ground, grad
