"""Settings: where data lives and where the server listens. Environment variables start with ``DRAVEL_``."""

from datetime import date
from ipaddress import ip_address
from pathlib import Path
from typing import Annotated

from platformdirs import user_data_path
from pydantic import AfterValidator, Field
from pydantic_settings import BaseSettings, SettingsConfigDict


def _this_machine(host: str) -> str:
    """Nobody else may come in before there is a passcode. Raises `ValueError` on anything but a loopback address."""
    try:
        loopback = host == "localhost" or ip_address(host).is_loopback
    except ValueError:
        loopback = False
    if not loopback:
        raise ValueError(f"'{host}' would let others in; Dravel listens on this machine only (127.0.0.1) so far")
    return host


class Settings(BaseSettings):
    """Read from the environment; the command line goes over it."""

    model_config = SettingsConfigDict(env_prefix="DRAVEL_")

    data: Path = user_data_path("dravel", appauthor=False)
    host: Annotated[str, AfterValidator(_this_machine)] = "127.0.0.1"
    port: Annotated[int, Field(ge=0, le=65535)] = 8765
    host_names: tuple[str, ...] = ()
    largest_body: Annotated[int, Field(ge=1000, le=1_000_000_000)] = 4_000_000
    tonight: date | None = None  # for demonstrations and tests: the evening to take for tonight

    def database(self, demo: bool = False) -> Path:
        """The database file. The demo has its own."""
        return self.data / ("demo.sqlite" if demo else "dravel.sqlite")
