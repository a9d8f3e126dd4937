"""A camera and a lens on a tripod: the rig that is left where no mount can be had, with what it can take."""

from math import floor

from dravel.core.design.axes import cents
from dravel.core.design.gear import Outfitter
from dravel.core.design.paths import Brief, Choice, Paths
from dravel.core.design.shop import Shop, price_of
from dravel.core.model import Guide, Rig, Support
from dravel.core.model.inventory import HAD, parts_of
from dravel.core.model.words import Value, Words, text
from dravel.core.moves.subs import whole_sub
from dravel.core.physics.optics import untracked_usual_s

WIDE_MM = 60.0  # up to here the Milky Way is what is taken
TAKEN = {True: "the Milky Way, M45, M42 with its surroundings, the Hyades", False: "M45, M42, the Hyades, M31"}


def on_a_tripod(shop: Shop, brief: Brief, money: float, share: float) -> Rig | None:
    """The rig of a lens, a body that needs no computer and a tripod that costs no more than `money`: the least costly, of
    those alike the one that gathers most before its stars trail. None where the shop has none.
    """
    still = Brief(("wide_field",), brief.site, brief.preferences)  # tracked or not the path is the same
    paths = Paths(shop, still)
    outfitter = Outfitter(shop, still, None)
    tripods: list[Support] = [item for item in shop.kind(Support) if item.style == "tripod"]
    if not tripods:
        return None
    best: tuple[float, float, Rig] | None = None
    for telescope in paths.telescopes():
        for camera in paths.cameras:
            if telescope.design != "camera_lens" or camera.driven_by != "release":
                continue
            choice = Choice(telescope, None, None, None, camera)
            path = paths.laid(choice) if paths.may_work(choice) else None
            rig = outfitter.fitted(path, None) if path is not None else None
            if path is None or rig is None:
                continue
            # An hour of the Milky Way takes no second battery.
            extras = tuple(extra for extra in rig.extras if extra.function != "spare_battery" or extra.status in HAD)
            rig = rig.model_copy(
                update={"extras": extras, "support": tripods[0], "purposes": ("untracked",), "riders": ()}
            )
            known = path.context.known
            usual = untracked_usual_s(known.value("pixel"), known.value("focal_length"), known.value("focal_ratio"))
            seconds = whole_sub(floor(usual) if usual >= 2 else usual)
            costs = cents(parts_of(rig), share) / 100
            if costs > money:
                continue
            gathers = seconds * (telescope.used("aperture_mm") or 0.0) ** 2
            if best is None or (costs, -gathers) < best[:2]:
                name = f"{telescope.name.split(',')[0]} on a tripod"
                guide = Guide(sub_s=seconds)
                best = costs, -gathers, rig.model_copy(update={"name": name, "summary": "designed", "guide": guide})
    return None if best is None else best[2]


def words_of(rig: Rig, share: float, currency: str) -> Words:
    """What is said of it."""
    lens, camera = rig.path[0].part, rig.path[-1].part
    focal = getattr(lens, "focal_length_mm", None) or 0.0
    costs = sum(price_of(part, share) for part in parts_of(rig))
    bought = (
        text("for {costs} {currency}", costs=Value(costs, digits=0), currency=currency)
        if costs
        else "with what you own"
    )
    stand = rig.support.name if rig.support else "tripod"
    return text(
        "image {bought}: the {lens} on the {camera}, on the {stand}. A few hundred subs of {sub_s}: {TAKEN}.",
        bought=bought,
        lens=lens.name,
        camera=camera.name,
        stand=stand,
        sub_s=Value(rig.guide.sub_s, form="exposure"),
        TAKEN=TAKEN[focal <= WIDE_MM],
    )
