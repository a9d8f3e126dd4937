"""The tables. Bodies are the core's models as JSON: the core speaks one language, and so does the store."""

from sqlalchemy import Boolean, ForeignKey, Integer, LargeBinary, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    """Root of all tables."""


class IdentityRow(Base):
    """Which data these are; a restore gives them another name, since what was typed on the old ones may not fit the new."""

    __tablename__ = "identity"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)


class EntryRow(Base):
    """A part, target, site or assembly of the user's, or the preferences."""

    __tablename__ = "entries"

    kind: Mapped[str] = mapped_column(String(20), primary_key=True)
    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    version: Mapped[int] = mapped_column(Integer, default=1)
    position: Mapped[int] = mapped_column(Integer)
    archived: Mapped[bool] = mapped_column(Boolean, default=False)
    body: Mapped[str] = mapped_column(Text)


class KeyRow(Base):
    """What was made under a key that its maker chose: asked again under the same key, that is the answer."""

    __tablename__ = "keys"

    key: Mapped[str] = mapped_column(String(80), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    made: Mapped[str] = mapped_column(String(80))


class RigRow(Base):
    """A rig; its documents are its revisions, `head` the newest, `as_built` the one that stands outside."""

    __tablename__ = "rigs"

    id: Mapped[str] = mapped_column(String(80), primary_key=True)
    head: Mapped[int] = mapped_column(Integer)
    as_built: Mapped[int | None] = mapped_column(Integer)
    position: Mapped[int] = mapped_column(Integer)
    archived: Mapped[bool] = mapped_column(Boolean, default=False)


class RevisionRow(Base):
    """A saved state of a rig. `parent` is where undo leads, `redo` where redo leads; nothing is ever deleted."""

    __tablename__ = "revisions"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    rig_id: Mapped[str] = mapped_column(ForeignKey("rigs.id"), index=True)
    number: Mapped[int] = mapped_column(Integer)
    parent: Mapped[int | None] = mapped_column(Integer)
    redo: Mapped[int | None] = mapped_column(Integer)
    note: Mapped[str] = mapped_column(String(200), default="")
    saved_at: Mapped[str] = mapped_column(String(40))
    body: Mapped[str] = mapped_column(Text)

    __table_args__ = (UniqueConstraint("rig_id", "number"),)


class JobRow(Base):
    """Long work that a process of its own does: how far it is, and what came of it. `stop` is a request, not yet the end."""

    __tablename__ = "jobs"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    kind: Mapped[str] = mapped_column(String(40))
    given: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(String(10))
    done: Mapped[int] = mapped_column(Integer, default=0)
    total: Mapped[int] = mapped_column(Integer, default=0)
    words: Mapped[str] = mapped_column(Text, default="")
    result: Mapped[str | None] = mapped_column(Text)
    stop: Mapped[bool] = mapped_column(Boolean, default=False)
    made_at: Mapped[str] = mapped_column(String(40))


class TickRow(Base):
    """A card of a build that was ticked, or unticked. `at` is the device's own time, `position` the order of arrival."""

    __tablename__ = "ticks"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    rig_id: Mapped[str] = mapped_column(ForeignKey("rigs.id"), index=True)
    build: Mapped[int] = mapped_column(Integer)
    card: Mapped[str] = mapped_column(String(120))
    done: Mapped[bool] = mapped_column(Boolean)
    at: Mapped[str] = mapped_column(String(40))
    device: Mapped[str] = mapped_column(String(80), default="")
    position: Mapped[int] = mapped_column(Integer)


class NightRow(Base):
    """A night that was begun, or a rehearsal of one; `version` counts what changed in it. The last that has not ended runs."""

    __tablename__ = "nights"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    body: Mapped[str] = mapped_column(Text)
    version: Mapped[int] = mapped_column(Integer, default=1)
    ended: Mapped[bool] = mapped_column(Boolean, default=False)
    position: Mapped[int] = mapped_column(Integer)


class MarkRow(Base):
    """What somebody marked in a night that runs, under the device's own id."""

    __tablename__ = "marks"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    night_id: Mapped[str] = mapped_column(ForeignKey("nights.id"), index=True)
    body: Mapped[str] = mapped_column(Text)
    position: Mapped[int] = mapped_column(Integer)


class SessionRow(Base):
    """A session: one rig's night as it went."""

    __tablename__ = "sessions"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    night_id: Mapped[str | None] = mapped_column(ForeignKey("nights.id"), index=True)
    rig_id: Mapped[str] = mapped_column(String(80), index=True)
    night: Mapped[str] = mapped_column(String(10), index=True)
    body: Mapped[str] = mapped_column(Text)
    position: Mapped[int] = mapped_column(Integer)
    version: Mapped[int] = mapped_column(Integer, default=1)
    archived: Mapped[bool] = mapped_column(Boolean, default=False)


class PaperRow(Base):
    """A picture of a session or a document of a part, as bytes."""

    __tablename__ = "papers"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    of_kind: Mapped[str] = mapped_column(String(20))
    of_id: Mapped[str] = mapped_column(String(80), index=True)
    name: Mapped[str] = mapped_column(String(200))
    media: Mapped[str] = mapped_column(String(40))
    size: Mapped[int] = mapped_column(Integer)
    archived: Mapped[bool] = mapped_column(Boolean, default=False)
    position: Mapped[int] = mapped_column(Integer)
    body: Mapped[bytes] = mapped_column(LargeBinary)


class DrillRow(Base):
    """A drill of the fault trainer that was answered: what was hidden, what was said, and what was asked for before."""

    __tablename__ = "drills"

    id: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    at: Mapped[str] = mapped_column(String(40))
    hidden: Mapped[str] = mapped_column(String(80))
    said: Mapped[str] = mapped_column(String(80))
    asked: Mapped[int] = mapped_column(Integer)


class FrameRow(Base):
    """What was measured on a frame of a rig. The frame itself stays where it is. `drawn` is what only its picture needs,
    compressed; of frames measured before there was such a field it lies in the body.
    """

    __tablename__ = "frames"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    rig_id: Mapped[str] = mapped_column(ForeignKey("rigs.id"), index=True)
    session_id: Mapped[str | None] = mapped_column(String(64), index=True)
    archived: Mapped[bool] = mapped_column(Boolean, default=False)
    position: Mapped[int] = mapped_column(Integer)
    body: Mapped[str] = mapped_column(Text)
    drawn: Mapped[bytes | None] = mapped_column(LargeBinary)
