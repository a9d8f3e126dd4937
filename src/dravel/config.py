"""Settings: where data lives and where the server listens. Environment variables start with ``DRAVEL_``."""

from datetime import date
from ipaddress import ip_address
from pathlib import Path
from typing import Annotated

from platformdirs import user_data_path
from pydantic import AfterValidator, Field
from pydantic_settings import BaseSettings, SettingsConfigDict


def _address(host: str) -> str:
    """Raises `ValueError` on what is no address of a machine."""
    if host != "localhost":
        try:
            ip_address(host)
        except ValueError:
            raise ValueError(
                f"'{host}' is no address; 127.0.0.1 is this machine only, 0.0.0.0 all its networks"
            ) from None
    return host


class Settings(BaseSettings):
    """Read from the environment; the command line goes over it."""

    model_config = SettingsConfigDict(env_prefix="DRAVEL_")

    data: Path = user_data_path("dravel", appauthor=False)
    host: Annotated[str, AfterValidator(_address)] = "127.0.0.1"
    port: Annotated[int, Field(ge=0, le=65535)] = 8765
    host_names: tuple[str, ...] = ()
    behind_proxy: bool = False  # everything comes through another server on this machine, and counts as from outside
    largest_body: Annotated[int, Field(ge=1000, le=1_000_000_000)] = 4_000_000
    language: Path | None = None  # a gettext catalogue (PO) that sentences and pages are said from
    tonight: date | None = None  # for demonstrations and tests: the evening to take for tonight

    def database(self, demo: bool = False) -> Path:
        """The database file. The demo has its own."""
        return self.data / ("demo.sqlite" if demo else "dravel.sqlite")
