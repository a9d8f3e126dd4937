"""The log: sessions that can be changed and put away, their pictures, parts' documents, what is built, and a search index."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"

# Of a document the texts that people write or look for; numbers, choices and citations are left out.
WORDS = (
    "(SELECT group_concat(t.atom, ' ') FROM json_tree({body}) AS t WHERE t.type = 'text' AND (t.key IN ('name', 'notes',"
    " 'note', 'maker', 'holder', 'summary', 'words', 'what', 'why', 'of', 'site', 'rig', 'filter', 'target', 'sort')"
    " OR t.path LIKE '%.aliases' OR t.path LIKE '%.people' OR t.path = '$.purposes'))"
)
KIND = "json_extract({body}, '$.kind')"
# Rows of one index, told apart by the last digit of the number they lie under.
ENTRY, RIG, SESSION, MARKS, PAPER = 1, 2, 3, 4, 5


def upgrade() -> None:
    op.add_column("sessions", sa.Column("version", sa.Integer, nullable=False, server_default="1"))
    op.add_column("sessions", sa.Column("archived", sa.Boolean, nullable=False, server_default="0"))
    op.add_column("rigs", sa.Column("as_built", sa.Integer))
    op.add_column("frames", sa.Column("session_id", sa.String(64)))
    op.add_column("frames", sa.Column("drawn", sa.LargeBinary))
    op.create_index("ix_frames_session_id", "frames", ["session_id"])
    op.create_table(
        "papers",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("of_kind", sa.String(20), nullable=False),
        sa.Column("of_id", sa.String(80), nullable=False, index=True),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("media", sa.String(40), nullable=False),
        sa.Column("size", sa.Integer, nullable=False),
        sa.Column("archived", sa.Boolean, nullable=False),
        sa.Column("position", sa.Integer, nullable=False),
        sa.Column("body", sa.LargeBinary, nullable=False),
    )
    op.execute(
        "CREATE VIRTUAL TABLE found USING fts5(kind UNINDEXED, id UNINDEXED, title, words,"
        " tokenize = \"unicode61 remove_diacritics 2\", prefix = '2 3')"
    )
    for statement in triggers():
        op.execute(statement)
    for statement in fill():
        op.execute(statement)


def triggers() -> list[str]:
    """What keeps the index true whoever writes."""
    made = []
    for event in ("INSERT", "UPDATE OF body"):
        name = event.split()[0].lower()
        made += [
            f"CREATE TRIGGER found_entry_{name} AFTER {event} ON entries WHEN json_valid(new.body) BEGIN"
            f" DELETE FROM found WHERE rowid = new.rowid * 8 + {ENTRY};"
            f" {_entry('SELECT new.rowid rowid, new.kind kind, new.id id, new.body body')}; END",
            f"CREATE TRIGGER found_session_{name} AFTER {event} ON sessions WHEN json_valid(new.body) BEGIN"
            f" DELETE FROM found WHERE rowid IN (new.rowid * 8 + {SESSION}, new.rowid * 8 + {MARKS});"
            f" {_session('SELECT new.rowid rowid, new.id id, new.night night, new.body body')};"
            f" {_marks('SELECT new.rowid rowid, new.id id, new.night night, new.body body')}; END",
        ]
    made.append(
        "CREATE TRIGGER found_rig AFTER INSERT ON revisions WHEN json_valid(new.body) BEGIN"
        f" DELETE FROM found WHERE rowid = (SELECT rowid FROM rigs WHERE id = new.rig_id) * 8 + {RIG};"
        f" {_rig('SELECT (SELECT rowid FROM rigs WHERE id = new.rig_id) rowid, new.rig_id id, new.body body')};"
        " END"
    )
    made.append(
        "CREATE TRIGGER found_paper AFTER INSERT ON papers BEGIN INSERT INTO found (rowid, kind, id, title, words)"
        f" VALUES (new.rowid * 8 + {PAPER}, 'paper', new.of_kind || '/' || new.of_id, new.name, ''); END"
    )
    return made


def fill() -> list[str]:
    """The index of what is there."""
    return [
        _entry("SELECT rowid, kind, id, body FROM entries WHERE json_valid(body)"),
        _session("SELECT rowid, id, night, body FROM sessions WHERE json_valid(body)"),
        _marks("SELECT rowid, id, night, body FROM sessions WHERE json_valid(body)"),
        _rig(
            "SELECT rigs.rowid rowid, rigs.id id, revisions.body body FROM rigs JOIN revisions"
            " ON revisions.rig_id = rigs.id AND revisions.number = rigs.head WHERE json_valid(revisions.body)"
        ),
        "INSERT INTO found (rowid, kind, id, title, words)"
        f" SELECT rowid * 8 + {PAPER}, 'paper', of_kind || '/' || of_id, name, '' FROM papers",
    ]


def _entry(of: str) -> str:
    return (
        "INSERT INTO found (rowid, kind, id, title, words)"
        f" SELECT e.rowid * 8 + {ENTRY}, e.kind, e.id, coalesce(json_extract(e.body, '$.name'), e.id),"
        f" coalesce({KIND.format(body='e.body')}, '') || ' ' || coalesce({WORDS.format(body='e.body')}, '') FROM ({of}) AS e"
    )


def _rig(of: str) -> str:
    return (
        "INSERT INTO found (rowid, kind, id, title, words)"
        f" SELECT e.rowid * 8 + {RIG}, 'rig', e.id, coalesce(json_extract(e.body, '$.name'), e.id),"
        f" coalesce({WORDS.format(body='e.body')}, '') FROM ({of}) AS e"
    )


def _session(of: str) -> str:
    return (
        "INSERT INTO found (rowid, kind, id, title, words)"
        f" SELECT e.rowid * 8 + {SESSION}, 'session', e.id,"
        " coalesce(json_extract(e.body, '$.rig'), '') || ', ' || e.night,"
        f" coalesce({WORDS.format(body='e.body')}, '') FROM ({of}) AS e"
    )


def _marks(of: str) -> str:
    return (
        "INSERT INTO found (rowid, kind, id, title, words)"
        f" SELECT e.rowid * 8 + {MARKS}, 'marks', e.id,"
        " 'Marks, ' || coalesce(json_extract(e.body, '$.rig'), '') || ', ' || e.night,"
        " (SELECT group_concat(json_extract(m.value, '$.sort') || ' ' || coalesce(json_extract(m.value, '$.of'), ''), ' ')"
        f" FROM json_each(e.body, '$.marks') AS m) FROM ({of}) AS e WHERE json_array_length(e.body, '$.marks') > 0"
    )


def downgrade() -> None:
    for name in ("entry_insert", "entry_update", "session_insert", "session_update", "rig", "paper"):
        op.execute(f"DROP TRIGGER found_{name}")
    op.execute("DROP TABLE found")
    op.drop_table("papers")
    op.drop_index("ix_frames_session_id", "frames")
    with op.batch_alter_table("frames") as frames:
        frames.drop_column("session_id")
        frames.drop_column("drawn")
    with op.batch_alter_table("rigs") as rigs:
        rigs.drop_column("as_built")
    with op.batch_alter_table("sessions") as sessions:
        sessions.drop_column("archived")
        sessions.drop_column("version")
