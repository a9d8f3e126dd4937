"""A request as it is asked for: targets and site by their ids in the store, or in words; and the one designer of a server."""

from datetime import date
from typing import Annotated

from pydantic import Field

from dravel.catalogue.objects import catalogue
from dravel.catalogue.prices import priced
from dravel.catalogue.starter_shelf import starter_shelf
from dravel.core.design.designer import BadRequest, Designer
from dravel.core.design.request import MOST_TARGETS, About, RequestTerms, RigRequest, purposes_of
from dravel.core.design.wanted import as_of, months_of, wished_for
from dravel.core.model import Part, Preferences, Rig, Site, Target
from dravel.core.model.base import Identifier
from dravel.core.sky.glow import shines_in_lines
from dravel.store import Store, Unknown

__all__ = ["BadRequest", "DesignAsked", "Designer", "for_rig", "for_sale", "request_of", "site_of"]


class DesignAsked(RequestTerms):
    """A request: what it is about in words, or `targets` by id (``list`` without any takes the whole list), and a site by id."""

    about: Annotated[About, Field(title="What to photograph")] = "a_bit_of_all"
    targets: Annotated[tuple[Identifier, ...], Field(title="Targets", max_length=MOST_TARGETS)] = ()
    site: Annotated[Identifier | None, Field(title="Site")] = None


def for_sale(shelf: tuple[Part, ...]) -> tuple[tuple[Part, ...], tuple[str, ...]]:
    """The shelf as a design takes it: generic parts that nobody gave a price have a made-up one, which is said."""
    generic = {part.id for part in starter_shelf()}
    bare = [part for part in shelf if part.price is None and part.status == "listed" and part.id in generic]
    if not bare:
        return shelf, ()
    ids = {part.id for part in bare}
    answer = f"{len(bare)} generic parts have invented prices; enter your own under Parts."
    return tuple(priced(part) if part.id in ids else part for part in shelf), (answer,)


def site_of(store: Store, site_id: str | None) -> Site | None:
    """The site of a request: the named one, else the first there is. Raises `Unknown`."""
    if site_id is None:
        return next((entry.body for entry in store.sites.all()), None)
    return store.sites.get(site_id).body


def targets_of(
    asked: DesignAsked, store: Store, site: Site | None, today: date, preferences: Preferences
) -> tuple[Target, ...]:
    """The targets a request stands for. Raises `BadRequest` where there are none, `Unknown` where one is not known."""
    if asked.about != "list":
        wished = wished_for(asked.about, catalogue().everything(), site, today, preferences)
        if not wished:
            raise BadRequest("about: nothing of that type is high enough at this site")
        return wished
    if not asked.targets:
        listed = tuple(entry.body for entry in store.targets.all(most=MOST_TARGETS))
        if not listed:
            raise BadRequest("targets: the list is empty; put targets on it, or say what kind you would like")
        return as_of(listed, site, today)
    return as_of(tuple(_target(store, target) for target in asked.targets), site, today)


def _target(store: Store, target_id: str) -> Target:
    try:
        return store.targets.get(target_id).body
    except Unknown:
        try:
            return catalogue().get(target_id)
        except KeyError:
            raise Unknown("target", target_id) from None


def request_of(asked: DesignAsked, store: Store, today: date, preferences: Preferences) -> RigRequest:
    """The request itself, with its targets and its site. Raises `BadRequest`, naming the field, and `Unknown`."""
    site = site_of(store, asked.site)
    targets = targets_of(asked, store, site, today, preferences)
    if asked.narrowband:
        targets = tuple(item for item in targets if shines_in_lines(item)) or targets
    terms = {name: getattr(asked, name) for name in RequestTerms.model_fields}
    return RigRequest(
        **terms,
        targets=targets,
        months=months_of(targets, site, today, preferences),
        purposes=purposes_of(targets),
        site=site,
    )


def for_rig(rig: Rig, terms: RequestTerms, store: Store, today: date, preferences: Preferences) -> RigRequest:
    """The request that a rig stands for: its own targets (else the list), site and purposes. Raises `BadRequest`."""
    site = rig.site or site_of(store, None)
    own = tuple(framing.target for framing in rig.framings)[:MOST_TARGETS]
    result = as_of(own, site, today) or targets_of(DesignAsked(about="list"), store, site, today, preferences)
    given = {name: getattr(terms, name) for name in RequestTerms.model_fields}
    purposes = tuple(purpose for purpose in rig.purposes if purpose != "untracked") or purposes_of(result)
    return RigRequest(
        **given, targets=result, months=months_of(result, site, today, preferences), purposes=purposes, site=site
    )
