"""Schema versions: where a database stands, whether this code can use it, and bringing it up."""

from pathlib import Path

from sqlalchemy import Engine, inspect, text

from kumpan.core.errors import KumpanError

FOLDER = Path(__file__).parent / "migrations"


def current(engine: Engine) -> str | None:
    """The revision a database stands at; None when it is empty."""
    with engine.connect() as connection:
        if not inspect(connection).has_table("alembic_version"):
            return None
        found = connection.scalar(text("SELECT version_num FROM alembic_version"))
        return None if found is None else str(found)


def revisions() -> list[str]:
    """All revisions this code knows, oldest first: each file begins with its own."""
    return sorted(file.name.partition("_")[0] for file in (FOLDER / "versions").glob("[0-9]*.py"))


def refuse_newer(revision: str | None) -> None:
    """Raise KumpanError if a schema was made by a newer Kumpan than this."""
    if revision is not None and revision not in revisions():
        raise KumpanError(
            "newer_schema",
            f"These data were written by a newer Kumpan (schema {revision}; this one knows up to"
            f" {revisions()[-1]}). Use the newer version, or restore a backup made by this one.",
        )


def upgrade(engine: Engine, to: str = "head") -> None:
    """Bring the schema up to a revision, by Alembic, without an ini file."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(FOLDER))
    config.attributes["engine"] = engine
    command.upgrade(config, to)
