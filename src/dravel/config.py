"""Settings: where data lives and where the server listens. Environment variables start with ``DRAVEL_``."""

from datetime import date
from pathlib import Path

from platformdirs import user_data_path
from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Read from the environment; the command line goes over it."""

    model_config = SettingsConfigDict(env_prefix="DRAVEL_")

    data: Path = user_data_path("dravel", appauthor=False)
    host: str = "127.0.0.1"
    port: int = 8765
    host_names: tuple[str, ...] = ()
    largest_body: int = 4_000_000
    tonight: date | None = None  # for demonstrations and tests: the evening to take for tonight

    def database(self, demo: bool = False) -> Path:
        """The database file. The demo has its own."""
        return self.data / ("demo.sqlite" if demo else "dravel.sqlite")
