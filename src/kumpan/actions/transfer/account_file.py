"""Open a file that holds an account: one JSON document, or a packed folder of CSV files. What it is not is
told plainly.
"""

import base64
import binascii
import csv
import io
import json
import posixpath
import zipfile
import zlib
from abc import ABC, abstractmethod
from collections.abc import Iterator
from functools import cached_property
from typing import Any, NoReturn

from pydantic import ValidationError

from kumpan.actions.transfer import account_old
from kumpan.actions.transfer.account_format import FORMAT, VERSION, Head
from kumpan.actions.transfer.account_tables import BY_NAME, TABLES, Table
from kumpan.core.cells import unguarded
from kumpan.core.errors import FieldProblem, InvalidInput
from kumpan.core.intake.sheet import decoded

# Our own limits: an account of a hundred pools over ten years is under 200 MB unpacked.
MOST_UNPACKED = 512 * 1024 * 1024
_MOST_ENTRIES = 20_000
_PACKED = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
_PACKAGE = "datapackage.json"
_NO_ACCOUNT = "This file holds no Kumpan account. Choose one that Kumpan wrote, or a CSV file of readings."

Row = dict[str, Any]


class AccountFile(ABC):
    """What a file holds, whatever version it was written in. head: what it says of itself."""

    def __init__(self, head: dict[str, Any]) -> None:
        self.version = version if (version := head.get("version")) in (1, 2) else VERSION
        self.head = _head(account_old.head(head, self.version) if self.version < VERSION else head)

    @cached_property
    def counts(self) -> dict[str, int]:
        """How many rows a table has, about."""
        return {t.name: self._count(name) for t in TABLES if (name := self.name_of(t)) is not None}

    def name_of(self, table: Table) -> str | None:
        """What the file calls a table; None where its version had none such."""
        return account_old.table_name(table.name, self.version)

    def rows(self, table: Table) -> Iterator[Row]:
        """A table's rows as they stand there, in the newest version's names, not looked at yet."""
        if self.version < VERSION:
            return account_old.rows(table.name, self.version, lambda name: self._rows(BY_NAME[name]))
        return self._rows(table)

    @abstractmethod
    def _rows(self, table: Table) -> Iterator[Row]: ...

    @abstractmethod
    def _count(self, name: str) -> int: ...

    @abstractmethod
    def held(self, text: str) -> bytes:
        """The picture a photo names, or what a paper holds."""


def opened(data: bytes) -> AccountFile:
    """A file's account. Raises InvalidInput at ``file``, or at a table where one is missing or has other
    columns.
    """
    return _Folder(data) if data.startswith(b"PK\x03\x04") else _Document(data)


class _Document(AccountFile):
    def __init__(self, data: bytes) -> None:
        try:
            document = json.loads(decoded(data)[0], parse_constant=_no_number)
        except json.JSONDecodeError as error:
            _refuse(
                "not_json",
                f"This JSON document breaks off or is torn at line {error.lineno}, column {error.colno}.",
            )
        except RecursionError:
            _refuse("not_json", "This JSON document is nested deeper than any account.")
        if not isinstance(document, dict):
            _refuse("no_account", _NO_ACCOUNT)
        super().__init__(document)
        names = {name: t for t in TABLES if (name := self.name_of(t)) is not None}
        for name, table in sorted(names.items()):
            if not isinstance(document.get(name, [] if table.came_later else None), list):
                _refuse("missing", f"The list “{name}” is missing.")
        unknown = set(document) - {*Head.model_fields, *names}
        if unknown:
            _refuse("extra_forbidden", f"Kumpan does not know “{sorted(unknown)[0][:40]}”.")
        self.document = document

    def _rows(self, table: Table) -> Iterator[Row]:
        return iter(self.document.get(self.name_of(table), ()))

    def _count(self, name: str) -> int:
        return len(self.document.get(name, ()))

    def held(self, text: str) -> bytes:
        try:
            return base64.b64decode(text, validate=True)
        except binascii.Error:
            raise InvalidInput(FieldProblem("file", "not_base64", "This is no file in base64.")) from None


class _Folder(AccountFile):
    def __init__(self, data: bytes) -> None:
        try:
            self.packed = zipfile.ZipFile(io.BytesIO(data))
            entries = self.packed.infolist()
        except (zipfile.BadZipFile, zipfile.LargeZipFile, NotImplementedError, OSError):
            _refuse("torn", "This packed file is torn. Fetch it anew.")
        # What such an entry says of its size is binding: no more than that is ever unpacked. Other ways to
        # pack unpack more than they say.
        if any(e.compress_type not in _PACKED for e in entries):
            _refuse(
                "packed_oddly", "This is packed in a way Kumpan does not read. Pack it as a plain ZIP file."
            )
        if len(entries) > _MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
            _refuse(
                "too_large", f"Unpacked this is more than Kumpan takes ({MOST_UNPACKED // 1024 // 1024} MB)."
            )
        described = next((e.filename for e in entries if posixpath.basename(e.filename) == _PACKAGE), None)
        if described is None:
            _refuse(
                "no_account", f"{_NO_ACCOUNT} A spreadsheet in a format of its own is saved as CSV first."
            )
        self.folder, self.given = posixpath.dirname(described), set[str]()
        self.names = {e.filename for e in entries}
        try:
            package = json.loads(decoded(self._bytes(_PACKAGE))[0])
        except (json.JSONDecodeError, RecursionError):
            _refuse("not_json", f"{_PACKAGE} cannot be read.")
        if not isinstance(package, dict) or not isinstance(package.get("kumpan"), dict):
            _refuse("no_account", _NO_ACCOUNT)
        known = package["kumpan"].get("version")
        self.version = known if known in (1, 2) else VERSION
        self._check_tables()
        super().__init__(package["kumpan"])

    def _check_tables(self) -> None:
        """Every table that a file of its version has is there."""
        for table in TABLES:
            name = self.name_of(table)
            if name is not None and not table.came_later and not self._has(name):
                _refuse("missing", f"{name}.csv is missing.")

    def _has(self, name: str) -> bool:
        return posixpath.join(self.folder, f"{name}.csv") in self.names

    def _count(self, name: str) -> int:
        return self._bytes(f"{name}.csv").count(b"\n") if self._has(name) else 0

    def _bytes(self, name: str) -> bytes:
        try:
            return self.packed.read(posixpath.join(self.folder, name))
        except (
            zipfile.BadZipFile,
            zlib.error,
            EOFError,
            RuntimeError,
            NotImplementedError,
            OSError,
        ):  # RuntimeError: it wants a password
            _refuse("torn", f"{name} cannot be unpacked. Fetch the file anew, without a password.")

    def _rows(self, table: Table) -> Iterator[Row]:
        if table.came_later and not self._has(str(self.name_of(table))):
            return
        file, shape = f"{self.name_of(table)}.csv", account_old.shape_of(table, self.version)
        reader = _csv(self._bytes(file))
        try:
            columns: list[str] = next(reader, [])
            self._check_columns(shape, file, columns)
            for cells in reader:
                if cells:
                    names = columns + [f"cell {i}" for i in range(len(columns) + 1, len(cells) + 1)]
                    yield {n: self._value(shape, n, c) for n, c in zip(names, cells, strict=False)}
        except csv.Error:
            _refuse("torn", f"{file}: a cell without end near line {reader.line_num}.")

    def _check_columns(self, shape: account_old.Shape, file: str, columns: list[str]) -> None:
        """Every field without a default is there, once, and no other."""
        names = set(columns)
        odd = shape.needed - names or names - shape.known or {n for n in names if columns.count(n) > 1}
        if odd:
            text = f"{file} has other columns than this format: look at “{sorted(odd)[0][:40]}”."
            _refuse("columns", text)

    @staticmethod
    def _value(shape: account_old.Shape, name: str, cell: str) -> Any:
        if cell == "" and name in shape.open:
            return None
        if name not in shape.structured:
            return unguarded(cell)
        try:
            return json.loads(cell, parse_constant=_no_number)
        except (json.JSONDecodeError, RecursionError):
            return cell  # told as what it is: no structure

    def held(self, text: str) -> bytes:
        if posixpath.join(self.folder, text) not in self.names:
            raise InvalidInput(FieldProblem("file", "missing", f"{text[:60]} is not in the folder."))
        if text in self.given:  # a small file named by many rows would be kept many times
            raise InvalidInput(FieldProblem("file", "twice", f"Another row holds {text[:60]} already."))
        self.given.add(text)
        return self._bytes(text)


def _csv(data: bytes) -> Any:
    """A reader of a table's lines, decoded as they are read. Kumpan writes UTF-8, whatever people typed."""
    heading = data.partition(b"\n")[0]
    separator = chr(max(b",;\t", key=heading.count))
    try:
        for _ in io.TextIOWrapper(io.BytesIO(data), "utf-8-sig", newline=""):
            pass
    except UnicodeDecodeError:
        return csv.reader(io.StringIO(decoded(data)[0], newline=""), delimiter=separator)
    return csv.reader(io.TextIOWrapper(io.BytesIO(data), "utf-8-sig", newline=""), delimiter=separator)


def _head(head: dict[str, Any]) -> Head:
    if head.get("format") != FORMAT:
        _refuse("no_account", _NO_ACCOUNT)
    version = head.get("version")
    if isinstance(version, int) and version > VERSION:
        _refuse(
            "newer",
            f"This file was written by a newer Kumpan (version {version} of its format; here {VERSION} is"
            " known). Update Kumpan first.",
        )
    try:
        return Head.model_validate({n: head[n] for n in Head.model_fields if n in head})
    except ValidationError as error:
        first = error.errors()[0]
        _refuse("head", f"{'.'.join(map(str, first['loc']))}: {first['msg']}.")


def _no_number(text: str) -> NoReturn:
    raise InvalidInput(FieldProblem("file", "not_a_number", f"{text} is no number that JSON knows."))


def _refuse(code: str, message: str) -> NoReturn:
    raise InvalidInput(FieldProblem("file", code, message))
