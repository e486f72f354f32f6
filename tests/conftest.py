"""Shared: a throwaway MariaDB, a clean database per test, a fixed clock, two accounts."""

import re
import shutil
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, settings
from sqlalchemy import Engine, text
from sqlalchemy.orm import Session
from uuid6 import uuid7
from xdist.scheduler import LoadScopeScheduling

from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.accounts import Account
from kumpan.store.tables.base import Base
from phreeqc import Phreeqc
from sample import load_sample
from support import NOW

# Shrinking a failing plan takes minutes: the failing case is printed whole instead. The usual run is
# repeatable, --deep is not.
SEARCH_ONLY = (Phase.explicit, Phase.reuse, Phase.generate)
settings.register_profile(
    "usual",
    max_examples=40,
    derandomize=True,
    deadline=None,
    phases=SEARCH_ONLY,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.register_profile(
    "deep", max_examples=1000, deadline=None, phases=SEARCH_ONLY, suppress_health_check=[HealthCheck.too_slow]
)


def pytest_addoption(parser: pytest.Parser) -> None:
    parser.addoption("--deep", action="store_true", help="long property runs")


def pytest_configure(config: pytest.Config) -> None:
    settings.load_profile("deep" if config.getoption("--deep") else "usual")


@pytest.fixture(scope="session")
def reference() -> Phreeqc:
    """PHREEQC with stabilizer and chlorine."""
    return Phreeqc()


@pytest.fixture(scope="session")
def short_folder() -> Iterator[Path]:
    folder = Path(tempfile.mkdtemp(prefix="kumpan-test-"))
    folder.chmod(0o711)  # root's database runs as another, who must come through
    yield folder
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def server(short_folder: Path) -> Iterator[PrivateMariaDB]:
    db = PrivateMariaDB(short_folder / "db", FAST_AND_UNSAFE)
    db.start()
    yield db
    db.stop()


@pytest.fixture(scope="session")
def migrated(server: PrivateMariaDB) -> Engine:
    engine = engine_for(server.url)
    migrate.upgrade(engine)
    return engine


@pytest.fixture(scope="session")
def template(server: PrivateMariaDB, migrated: Engine) -> str:
    """A schema beside the tests' own that keeps the demo, so that it is worked out once."""
    name = "kumpan_template"
    server.admit(name, name)
    with server.connect() as connection, connection.cursor() as cursor:
        cursor.execute(f"GRANT SELECT ON {name}.* TO kumpan@'127.0.0.1'")
    engine = engine_for(server.url_of(name, name))
    migrate.upgrade(engine)
    add_account(engine)
    assert load_sample(engine, NOW)
    engine.dispose()
    return name


def add_account(engine: Engine) -> None:
    with Session(engine) as session:
        session.add(Account(id=uuid7(), name="Test", created_at=NOW))
        session.commit()


def empty(engine: Engine, fill: str = "") -> None:
    """Empty every table; ``fill``: then copy what the schema of that name holds."""
    with engine.begin() as connection:
        connection.execute(text("SET foreign_key_checks = 0"))
        for table in Base.metadata.sorted_tables:
            connection.execute(table.delete())
            if fill:
                connection.execute(text(f"INSERT INTO {table.name} SELECT * FROM {fill}.{table.name}"))
        connection.execute(text("SET foreign_key_checks = 1"))


@pytest.fixture
def engine(migrated: Engine) -> Engine:
    """An empty, migrated database with one account."""
    empty(migrated)
    add_account(migrated)
    return migrated


@pytest.fixture
def demo_engine(migrated: Engine, template: str) -> Engine:
    """A database that holds the demo and nothing else."""
    empty(migrated, template)
    return migrated


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Tests that start and kill servers come first: they take longest."""
    items.sort(key=lambda item: _ORDER.get(item.path.parent.name, 2))


_ORDER = {"store": 0, "browser": 1}

# Tests that one worker does, as they share what takes long to make, or want no company of their kind. By their
# ids: of the marks that pytest-xdist has for this, pytest 9.2 loses sight.
_TOGETHER = (
    r"store/test_(?:ops|server)\.py",
    r"core/test_deposits\.py",
    r"core/test_(?:present|forecast)_lived\.py",
)


class _Together(LoadScopeScheduling):
    def _split_scope(self, nodeid: str) -> str:
        found = next((hit for pattern in _TOGETHER if (hit := re.search(pattern, nodeid))), None)
        return nodeid if found is None else "".join((found.re.pattern, *found.groups()))


@pytest.hookimpl(optionalhook=True)
def pytest_xdist_make_scheduler(config: pytest.Config, log: Any) -> _Together:
    """Of pytest-xdist."""
    return _Together(config, log)
