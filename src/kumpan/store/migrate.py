"""Schema versions: where a database stands, whether this code can use it, and bringing it up."""

from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine

from kumpan.core.errors import KumpanError

FOLDER = Path(__file__).parent / "migrations"


def config(engine: Engine) -> Config:
    """Alembic set up on our migrations and this engine, without an ini file."""
    result = Config()
    result.set_main_option("script_location", str(FOLDER))
    result.attributes["engine"] = engine
    return result


def current(engine: Engine) -> str | None:
    """The revision a database stands at; None when it is empty."""
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision()


def revisions() -> list[str]:
    """All revisions this code knows, oldest first."""
    script = ScriptDirectory(str(FOLDER))
    return [r.revision for r in reversed(list(script.walk_revisions()))]


def refuse_newer(revision: str | None) -> None:
    """Raise KumpanError if a schema was made by a newer Kumpan than this."""
    if revision is not None and revision not in revisions():
        raise KumpanError(
            "newer_schema",
            f"These data were written by a newer Kumpan (schema {revision}; this one knows up to"
            f" {revisions()[-1]}). Use the newer version, or restore a backup made by this one.",
        )


def upgrade(engine: Engine, to: str = "head") -> None:
    """Bring the schema up to a revision."""
    command.upgrade(config(engine), to)
