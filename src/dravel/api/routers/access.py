"""Coming in from another machine, going out again, and the address under which a phone finds this one."""

import logging
import socket
from typing import Annotated

from fastapi import APIRouter, Depends, HTTPException, Request, Response
from pydantic import Field

from dravel.api.access import COOKIE, LONGEST, SESSION_S, Access, is_loopback, token_of
from dravel.core.model.base import Model

router = APIRouter(tags=["access"])
log = logging.getLogger("dravel.access")
NOBODY = "192.0.2.1"  # an address of documentation: nothing is sent, the system only says which way it would go
HOW = "Dravel listens on this machine only. Set a passcode with `dravel passcode`, then start it with `--host 0.0.0.0`."


class AccessState(Model):
    """Whether a passcode is needed from here, whether one was given, and seconds until a next guess is heard."""

    needed: bool
    signed_in: bool
    waits_s: float = 0.0


class PasscodeGiven(Model):
    """A guess."""

    passcode: Annotated[str, Field(title="Passcode", min_length=1, max_length=LONGEST)]


class FieldAddress(Model):
    """Where a phone in the same network finds the field view; empty with the reason where it cannot."""

    address: str
    because: str
    svg: str


async def _access(request: Request) -> Access:
    held: Access = request.app.state.access
    return held


AccessDep = Annotated[Access, Depends(_access)]


@router.get("/access")
def read_access(request: Request, access: AccessDep) -> AccessState:
    """Whether the passcode is needed."""
    return _told(request, access)


def _told(request: Request, access: Access) -> AccessState:
    home = access.at_home(request.scope)
    known = home or access.knows(token_of(request.scope))
    return AccessState(
        needed=not home,
        signed_in=known,
        waits_s=0.0 if known else round(access.waits_s(access.address_of(request.scope)), 1),
    )


@router.post("/access")
def sign_in(given: PasscodeGiven, request: Request, response: Response, access: AccessDep) -> AccessState:
    """Come in. A session lasts twelve hours, or until one signs out."""
    address = access.address_of(request.scope)
    if (waits := access.waits_s(address)) > 0:
        log.warning("passcode from %s: not heard, too many wrong ones", address)
        raise HTTPException(
            429, f"passcode: too many wrong ones; try again in {waits:.0f} s", {"retry-after": f"{waits:.0f}"}
        )
    token = access.enter(address, given.passcode)
    log.warning("passcode from %s: %s", address, "right" if token else "wrong")
    if token is None:
        raise HTTPException(403, "passcode: that is not it")
    response.set_cookie(COOKIE, token, max_age=SESSION_S, httponly=True, samesite="strict", path="/")
    return AccessState(needed=True, signed_in=True)


@router.post("/access/sign-out")
def sign_out(request: Request, response: Response, access: AccessDep) -> AccessState:
    """End this device's session."""
    access.leave(token_of(request.scope))
    response.delete_cookie(COOKIE, path="/", httponly=True, samesite="strict")
    home = access.at_home(request.scope)
    return AccessState(needed=not home, signed_in=home)


@router.get("/field-address")
def field_address(request: Request) -> FieldAddress:
    """The address of the field view, and its QR code as SVG, black on white."""
    import segno

    host, port = request.app.state.listens
    if is_loopback(host):
        return FieldAddress(address="", because=HOW, svg="")
    own = _own_address() if host in ("0.0.0.0", "::", "") else host
    if not own:
        return FieldAddress(address="", because="This machine is in no network that a phone could reach.", svg="")
    shown = f"[{own}]" if ":" in own else own
    address = f"http://{shown}:{port}/phone"
    drawn = segno.make(address, error="m").svg_inline(scale=6, border=4, dark="#000", light="#fff", omitsize=True)
    return FieldAddress(address=address, because="", svg=drawn)


def _own_address() -> str:
    """This machine's address in its network, as the way out to others tells it; nothing is sent."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as way:
        try:
            way.connect((NOBODY, 9))
            return str(way.getsockname()[0])
        except OSError:
            return ""
