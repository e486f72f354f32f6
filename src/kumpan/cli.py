"""The commands behind ./kumpan."""

import argparse
import os
import signal
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from kumpan import calc
from kumpan.core.errors import KumpanError

if TYPE_CHECKING:
    from kumpan.settings import Settings


def main(arguments: list[str] | None = None) -> int:
    """Run one command; returns the exit status. Errors are told in plain words on standard error."""
    parser = argparse.ArgumentParser(prog="kumpan", description="Looks after swimming-pool water.")
    commands = parser.add_subparsers(dest="command", required=True)
    commands.add_parser("start", help="start with your own data")
    commands.add_parser("demo", help="start with made-up sample pools, in a folder of their own")
    for name, text in (("backup", "write everything to FILE"), ("restore", "replace everything by FILE")):
        command = commands.add_parser(name, help=text)
        command.add_argument("file", type=Path)
        command.add_argument("--demo", action="store_true", help="the demo data instead of your own")
    command = commands.add_parser(
        "work", help="do long work for a running Kumpan; it starts one worker of its own"
    )
    command.add_argument("--demo", action="store_true", help="for the demo data")
    command = commands.add_parser("standin", help="answer as a simulated outside service, on loopback")
    command.add_argument("service", choices=["weather", "panel"])
    command.add_argument("folder", type=Path, help="where its address is written while it runs")
    commands.add_parser("openapi", help="print the API description")
    commands.add_parser("schema", help="print the JSON Schema of an account's open format")
    command = commands.add_parser("calc", help="answer JSON documents on standard input (docs/calc.md)")
    command.add_argument("name", choices=calc.NAMES)
    options = parser.parse_args(arguments)
    if options.command == "calc":
        from kumpan.calc.run import main as calculate

        return calculate(options.name)
    if options.command == "standin":
        from kumpan.standins import panel, weather

        return panel.serve(options.folder) if options.service == "panel" else weather.serve(options.folder)
    return _with_server(options)


def _with_server(options: argparse.Namespace) -> int:
    # Imported here: each command loads what it needs.
    from pydantic import ValidationError

    from kumpan.settings import Settings

    os.umask(0o077)  # whatever is written is its owner's alone
    try:
        settings = Settings()
        if options.command in ("start", "demo"):
            from kumpan.ops.serve import serve

            return serve(settings, demo=options.command == "demo")
        if options.command == "work":
            from kumpan.ops.work import work

            return work(settings, options.demo)
        if options.command in ("openapi", "schema"):
            from kumpan.ops.schema import account_schema_text, openapi_text

            sys.stdout.write(openapi_text() if options.command == "openapi" else account_schema_text())
            return 0
        return _copy(settings, options)
    except KeyboardInterrupt:
        return 130  # as a shell says it
    except KumpanError as error:
        print(f"kumpan: {error.message}", file=sys.stderr)
        return 1
    except ValidationError as error:
        first = error.errors()[0]
        print(f"kumpan: KUMPAN_{str(first['loc'][0]).upper()}: {first['msg']}", file=sys.stderr)
        return 1


def _copy(settings: "Settings", options: argparse.Namespace) -> int:
    from kumpan.ops.backup import backup
    from kumpan.ops.mariadb import PrivateMariaDB
    from kumpan.ops.restore import restore
    from kumpan.ops.serve import FolderLock, folder_for, say

    folder = folder_for(settings, options.demo)
    lock = FolderLock(folder)
    ours = lock.take()
    if not ours and options.command == "restore":
        raise KumpanError("running", "Kumpan is running on these data. Stop it (Ctrl-C) before restoring.")
    db = PrivateMariaDB(folder)
    signal.signal(signal.SIGINT, signal.default_int_handler)  # from here on there is a database to stop
    try:
        db.start()
        if options.command == "backup":
            size = backup(db, options.file, datetime.now(UTC))
            say(f"Wrote {options.file} ({size / 1000:,.0f} kB).")
        else:
            restore(db, options.file, datetime.now(UTC))
            say(f"Restored {options.file}.")
    finally:
        if ours:  # a running Kumpan keeps its database
            db.stop()
    return 0
