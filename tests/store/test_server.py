"""The private server: how it is made, reached and taken over; backups, and files that only look like one."""

import gzip
import os
import random
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pymysql
import pytest
from sqlalchemy import Engine, text

from kumpan.core.errors import KumpanError
from kumpan.demo.load import load_demo
from kumpan.ops.backup import backup
from kumpan.ops.mariadb import FAST_AND_UNSAFE, PrivateMariaDB
from kumpan.ops.prepare import prepare
from kumpan.ops.restore import restore, statements
from kumpan.store import migrate
from kumpan.store.database import engine_for
from kumpan.store.tables.base import Base
from support import NOW, environment


def dump(engine: Engine) -> dict[str, list[tuple]]:
    """Every row of every table of the newest schema."""
    with engine.connect() as c:
        return {
            t.name: sorted(map(tuple, c.execute(t.select())), key=repr) for t in Base.metadata.sorted_tables
        }


def checksums(db: PrivateMariaDB) -> tuple[tuple[object, ...], ...]:
    """Of every table, by the server itself."""
    with db.connect("kumpan") as connection, connection.cursor() as cursor:
        cursor.execute("CHECKSUM TABLE " + ", ".join(t.name for t in Base.metadata.sorted_tables))
        return cursor.fetchall()


@pytest.fixture(scope="module")
def own(short_folder: Path) -> Iterator[PrivateMariaDB]:
    """A server with the demo, on data of its own."""
    db = PrivateMariaDB(short_folder / "own", FAST_AND_UNSAFE)
    db.start()
    engine = prepare(db, NOW)
    load_demo(engine, NOW)
    engine.dispose()
    yield db
    db.stop()


@pytest.fixture(scope="module")
def good(own: PrivateMariaDB, short_folder: Path) -> Path:
    """A backup of it."""
    file = short_folder / "good.sql.gz"
    assert backup(own, file, NOW) > 1000
    return file


def test_backup_and_restore_round_trip(own: PrivateMariaDB, good: Path, tmp_path: Path) -> None:
    assert good.stat().st_mode & 0o777 == 0o600
    engine = engine_for(own.url)
    before = dump(engine)
    with engine.begin() as connection:
        connection.execute(text("DELETE FROM reading"))
        connection.execute(text("UPDATE pool SET name = 'it''s \\\\ \"changed\"\n; -- \\\\!'"))
    changed, again = dump(engine), tmp_path / "again.sql.gz"
    assert changed != before
    backup(own, again, NOW)
    engine.dispose()
    for file, held in ((good, before), (again, changed), (good, before)):
        restore(own, file, NOW)
        assert dump(engine) == held
        engine.dispose()
    with engine.begin() as connection:  # data of a newer Kumpan are refused, plainly and untouched
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    engine.dispose()
    with pytest.raises(KumpanError, match="newer Kumpan"):
        prepare(own, NOW)
    backup(own, again, NOW)
    with pytest.raises(KumpanError, match="newer Kumpan"):
        restore(own, again, NOW)
    with engine.begin() as connection:
        connection.execute(
            text("UPDATE alembic_version SET version_num = :v"), {"v": migrate.revisions()[-1]}
        )
    engine.dispose()
    with own.connect() as connection, connection.cursor() as cursor:
        cursor.execute("SHOW DATABASES LIKE 'kumpan%'")
        assert cursor.fetchall() == (("kumpan",),)  # nothing is left lying about


# What a file may hold that is no backup: a text that is in one, and what stands there instead.
ROW = "INSERT INTO `alembic_version` VALUES\n"
HEAD = migrate.revisions()[-1]
HOSTILE = {
    "a command of the client's": ("UNLOCK TABLES;\n", "UNLOCK TABLES;\n\\! touch {mark}\n"),
    "the same in words": ("UNLOCK TABLES;\n", "system touch {mark}\n"),
    "another file": ("UNLOCK TABLES;\n", "source {mark}\n"),
    "a file written": ("UNLOCK TABLES;\n", "SELECT 1 INTO OUTFILE '{mark}';\n"),
    "the same behind a row": (
        ROW,
        "INSERT INTO `alembic_version` VALUES ('0001'); SELECT 1 INTO OUTFILE '{mark}';\n",
    ),
    "a value worked out": (ROW, ROW + "(LOAD_FILE('/etc/hostname')),\n"),
    "a value of another table": (ROW, ROW + "((SELECT name FROM kumpan.account LIMIT 1)),\n"),
    "another schema's table": (ROW, "INSERT INTO `kumpan`.`alembic_version` VALUES\n"),
    "a schema dropped": ("UNLOCK TABLES;\n", "DROP DATABASE kumpan;\n"),
    "a setting for all": ("UNLOCK TABLES;\n", "SET GLOBAL general_log = 1;\n"),
    "a table kept elsewhere": (") ENGINE=InnoDB DEFAULT", ") ENGINE=CSV DEFAULT"),
    "a table of our own that is not": ("CREATE TABLE `reading` (", "CREATE TABLE `readings` ("),
    "a row twice": (ROW, f"{ROW}('{HEAD}'),\n('{HEAD}'),\n"),
    "an error at its end": ("-- Dump completed", "DROP TABLE `account`;\nGARBAGE;\n-- Dump completed"),
    "another revision than said": (f"-- kumpan backup, schema {HEAD}", "-- kumpan backup, schema 0001"),
    "cut off": ("-- Dump completed", "-- Dump"),
}


@pytest.mark.parametrize("what", HOSTILE)
def test_a_file_that_only_looks_like_a_backup_changes_nothing(
    own: PrivateMariaDB, good: Path, tmp_path: Path, what: str
) -> None:
    mark = Path(own.at.tmp) / f"{len(what)}.mark"  # where the server could write too
    place, instead = HOSTILE[what]
    whole = gzip.decompress(good.read_bytes()).decode()
    assert place in whole
    file = tmp_path / "hostile.sql.gz"
    file.write_bytes(gzip.compress(whole.replace(place, instead.format(mark=mark), 1).encode(), 1))
    before = checksums(own)
    with pytest.raises(KumpanError, match=r"[Nn]othing was changed|not a whole|says it is"):
        restore(own, file, NOW)
    assert checksums(own) == before and not mark.exists()


def test_a_backup_as_a_newer_client_writes_it_comes_back(
    own: PrivateMariaDB, good: Path, tmp_path: Path
) -> None:
    """Its rows stand between the two ends of a transaction (mariadb-dump from 11 on, from memory)."""
    whole = gzip.decompress(good.read_bytes()).decode()
    newer = whole.replace("UNLOCK TABLES;\n", "UNLOCK TABLES;\ncommit;\n").replace(
        "LOCK TABLES `", "set autocommit=0;\nLOCK TABLES `"
    )
    file = tmp_path / "newer.sql.gz"
    file.write_bytes(gzip.compress(newer.encode(), 1))
    assert list(statements(file)) == list(statements(good))


def test_no_user_of_the_port_gets_beyond_its_schema(own: PrivateMariaDB) -> None:
    own.admit("kumpan_incoming", "one")
    assert ("kumpan", own.at.access().password) != ("kumpan_incoming", "one")
    users = {"kumpan": own.at.access().password, "kumpan_incoming": "one"}
    for user, password in users.items():
        with (
            pymysql.connect(
                host="127.0.0.1", port=own.at.access().port, user=user, password=password, database=user
            ) as connection,
            connection.cursor() as cursor,
        ):
            cursor.execute("SHOW DATABASES")
            assert set(cursor.fetchall()) == {(user,), ("information_schema",)}
            others = {"kumpan", "kumpan_incoming", "mysql"} - {user}
            for statement in (
                f"SELECT 1 INTO OUTFILE '{own.at.tmp}/x'",
                "SELECT * FROM mysql.global_priv",
                "CREATE USER eve@'127.0.0.1'",
                "SET GLOBAL general_log = 1",
                "SHUTDOWN",
                *(f"CREATE TABLE {other}.x (a INT)" for other in others),
            ):
                with pytest.raises(pymysql.Error):
                    cursor.execute(statement)
            cursor.execute("SELECT LOAD_FILE('/etc/hostname')")
            assert cursor.fetchall() == ((None,),)
    own.dismiss("kumpan_incoming")
    for user, password in (("kumpan", "guessed"), ("root", ""), ("mysql", ""), ("", "")):
        with pytest.raises(pymysql.Error):
            pymysql.connect(host="127.0.0.1", port=own.at.access().port, user=user, password=password)


def test_it_listens_on_loopback_alone_with_no_more_rights_than_it_needs(own: PrivateMariaDB) -> None:
    pid, access = own.running_pid(), own.at.access()
    listening = {
        line.split()[1]
        for table in ("tcp", "tcp6")
        for line in Path(f"/proc/net/{table}").read_text().splitlines()[1:]
        if line.split()[3] == "0A" and line.split()[1].endswith(f":{access.port:04X}")
    }
    assert listening == {f"0100007F:{access.port:04X}"}
    assert (own.folder / "database.json").stat().st_mode & 0o777 == 0o600
    if os.getuid() == 0:
        assert Path(f"/proc/{pid}").stat().st_uid != 0
        assert own.at.data.stat().st_uid == Path(f"/proc/{pid}").stat().st_uid
        assert own.at.data.stat().st_mode & 0o077 == 0


def test_an_older_schema_is_backed_up_before_it_changes_and_that_backup_comes_back(tmp_path: Path) -> None:
    db = PrivateMariaDB(tmp_path / "db", FAST_AND_UNSAFE)
    db.start()
    try:
        migrate.upgrade(engine_for(db.url), "0001")
        prepare(db, NOW)
        (file,) = (db.folder / "backups").glob("before-schema-*.sql.gz")
        assert all(s.startswith(("CREATE", "INSERT")) for s in statements(file))
        restore(db, file, NOW)
        assert migrate.current(engine_for(db.url)) == migrate.revisions()[-1]
    finally:
        db.stop()


def test_an_orphan_is_adopted_and_no_other_server_touched(server: PrivateMariaDB, tmp_path: Path) -> None:
    folder = tmp_path / ("a-rather-long-folder-name-" * 6) / "db"  # its socket path would not fit: falls back
    first = PrivateMariaDB(folder, FAST_AND_UNSAFE)
    first.start()
    try:
        second = PrivateMariaDB(folder, FAST_AND_UNSAFE)  # a launcher after a SIGKILL of the first
        assert second.start() == "adopted"
        assert second.running_pid() == first.running_pid()
        # A stale pid file that names somebody else's mariadbd is not believed.
        stranger = PrivateMariaDB(tmp_path / "other", FAST_AND_UNSAFE)
        stranger.pid_file.parent.mkdir(parents=True)
        stranger.pid_file.write_text(str(server.running_pid()))
        assert stranger.running_pid() is None
        stranger.stop()
        assert server.running_pid()
    finally:
        first.stop()
    assert first.running_pid() is None


def test_a_folder_of_before_is_taken_over_with_its_data(short_folder: Path) -> None:
    """One made when the server had no port, ran as whoever started it, and wrote beside its data."""
    db = PrivateMariaDB(short_folder / "before", FAST_AND_UNSAFE)
    db.start()
    with db.connect() as connection, connection.cursor() as cursor:
        cursor.execute("CREATE TABLE kumpan.kept (a INT)")
        cursor.execute("INSERT INTO kumpan.kept VALUES (7)")
        connection.commit()
        cursor.execute("DROP USER kumpan@'127.0.0.1'")
    db.stop()
    (db.folder / "database.json").unlink()
    (db.folder / "inbox").mkdir()
    (db.folder / "inbox").chmod(0o755)
    (db.at.data / "kumpan-made").unlink()
    for path in (*db.at.data.rglob("*"), db.at.data):
        os.chown(path, os.getuid(), os.getgid())
    old = [db.folder / name for name in ("mariadb.sock", "mariadb.pid", "mariadb.log")]
    as_root = ["--user=root"] if os.getuid() == 0 else []
    arguments = ["--no-defaults", *as_root, f"--datadir={db.at.data}", "--skip-networking", *FAST_AND_UNSAFE]
    places = [f"--socket={old[0]}", f"--pid-file={old[1]}", f"--log-error={old[2]}"]
    running = subprocess.Popen(["/usr/sbin/mariadbd", *arguments, *places])
    end = time.monotonic() + 30
    while not old[2].exists() or "ready for connections" not in old[2].read_text():
        assert time.monotonic() < end
        time.sleep(0.05)
    taken = PrivateMariaDB(db.folder, FAST_AND_UNSAFE)
    try:
        assert taken.start() == "started"  # it is stopped first: nobody could reach it
        assert running.wait(30) == 0 and not any(file.exists() for file in old)
        with engine_for(taken.url).connect() as c:
            assert c.execute(text("SELECT a FROM kept")).scalar_one() == 7
        assert (db.folder / "inbox").stat().st_mode & 0o777 == 0o700
    finally:
        running.kill()
        taken.stop()


def test_a_damaged_folder_is_refused_untouched_and_a_half_made_one_moved_aside(short_folder: Path) -> None:
    db = PrivateMariaDB(short_folder / "damaged", FAST_AND_UNSAFE)
    (db.at.data / "kumpan").mkdir(parents=True)
    (db.at.data / "kumpan" / "pool.ibd").write_text("somebody's data")
    with pytest.raises(KumpanError, match="Nothing was touched"):
        db.start()
    assert (db.at.data / "kumpan" / "pool.ibd").read_text() == "somebody's data"
    half = PrivateMariaDB(short_folder / "half", FAST_AND_UNSAFE)
    (half.at.data / "mysql").mkdir(parents=True)  # as an interrupted first start of before left it
    (half.at.data / "aria_log_control").write_text("half")
    try:
        assert half.start() == "started"
        assert next(half.folder.glob("mariadb.half-*/mariadb/aria_log_control")).read_text() == "half"
    finally:
        half.stop()


def test_a_first_start_killed_at_any_moment_is_finished_by_the_next(short_folder: Path) -> None:
    """A quick round of what ``bench/attack.py`` does thirty times: kills and Ctrl-C, each on what the one
    before left.
    """
    home, dice = short_folder / "first", random.Random()
    begin = [sys.executable, "-m", "kumpan", "start"]
    env = environment(KUMPAN_HOME=str(home), KUMPAN_PORT="0")
    db = PrivateMariaDB(home / "real")
    for number, after_s in enumerate(sorted(dice.uniform(0.1, 2.5) for _ in range(4))):
        running = subprocess.Popen(
            [*begin],
            env=env | {"KUMPAN_PORT": str(20_000 + dice.randrange(9000))},
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        time.sleep(after_s)
        if number % 2:
            running.kill()
        else:
            os.killpg(running.pid, signal.SIGINT)
        told = running.communicate(timeout=60)[0]
        assert "Traceback" not in told, (after_s, told)
    try:
        db.start()
        prepare(db, NOW).dispose()
    finally:
        db.stop()
