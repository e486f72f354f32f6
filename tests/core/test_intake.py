"""Tables as photometers, shops and spreadsheets write them: bytes to cells, cells to columns of meaning, rows
to tests.

Conversions are checked against molar masses (CaCO3 100.087, CaO 56.077 g/mol; IUPAC) and the definitions of
the units; clock changes against the IANA database. How reports look is common practice, no source.
"""

import csv
import io
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kumpan.core.errors import InvalidInput
from kumpan.core.intake.columns import KNOWN_HEADINGS, Column, match_columns
from kumpan.core.intake.moments import came_twice, on_clock, parse_moment, usual_order
from kumpan.core.intake.rows import Checked, Place, Settings, check_rows, usual_settings
from kumpan.core.intake.sheet import MOST_CELL, MOST_ROWS, Sheet, decoded, read_sheet
from kumpan.core.units import c_to_f
from kumpan.core.water.measures import MEASURES

NOW = datetime(2026, 7, 14, 22, 40, tzinfo=UTC)
CHICAGO = ZoneInfo("America/Chicago")
CACO3, CAO = 100.087, 56.077


def sheet(text: str | bytes) -> Sheet:
    return read_sheet(text.encode() if isinstance(text, str) else text, KNOWN_HEADINGS)


def checked(text: str, metric: bool = False, seen: dict | None = None, **more: str) -> Checked:
    found = sheet(text)
    settings, _ = usual_settings(found, metric)
    return check_rows(found, Settings(**{**vars(settings), **more}), Place(CHICAGO, NOW, seen or {}))


def values(text: str, metric: bool = False, **more: str) -> list[dict[str, float]]:
    return [{r.measure: r.value for r in t.readings} for t in checked(text, metric, **more).tests]


# --- Bytes
# ---------------------------------------------------------------------------------------------------------------

TABLE = "when;fc;ph;who\r\n2026-05-01 08:00;1,5;7,4;Jörg – “so”\r\n"


@pytest.mark.parametrize(
    ("encoding", "named"),
    [
        ("utf-8", "UTF-8"),
        ("utf-8-sig", "UTF-8"),
        ("utf-16", "UTF-16"),
        ("utf-16-le", "UTF-16"),
        ("utf-16-be", "UTF-16"),
        ("cp1252", "Windows-1252"),
    ],
)
def test_every_usual_encoding_reads_the_same(encoding: str, named: str) -> None:
    found = sheet(TABLE.encode(encoding))
    assert (found.encoding, found.separator, found.head) == (named, ";", ("when", "fc", "ph", "who"))
    assert found.rows == (("2026-05-01 08:00", "1,5", "7,4", "Jörg – “so”"),) and found.lines == (2,)


@pytest.mark.parametrize(
    ("data", "code", "says"),
    [
        (b"PK\x03\x04rest", "wrong_kind", "packed file or a spreadsheet"), (b"\xd0\xcf\x11\xe0old", "wrong_kind", "old format"), (b"%PDF-1.7", "wrong_kind", "PDF"),
        (b"\xff\xd8\xff\xe0jpg", "wrong_kind", "picture"), (b"\x89PNG\r\n", "wrong_kind", "picture"), (b"\x1f\x8bgz", "wrong_kind", "Unpack"),
        (b"", "empty", "nothing in this file"), (b"\xef\xbb\xbf \r\n\r\n", "empty", "nothing"), (b"\xff\xfe", "empty", "nothing"), (b";;;\n;;\n", "empty", "nothing"),
        (b"when,fc\n", "empty", "no rows"), (b"just a letter\nof two lines\n", "not_a_table", "no table"), (bytes(range(256)) * 20, "not_text", "not text"),
        (b"\x01\x02\x03\x04\x05" * 50 + b"\n", "not_text", "not text"),
        (b"when,fc\n2026-05-01,\"" + b"x" * 200_000, "huge_cell", "A quotation mark may be missing"),
        (b"when,fc\n2026-05-01," + b"9" * (MOST_CELL + 1), "huge_cell", f"a cell of {MOST_CELL + 1:,} characters"),
        (b"when,fc\n" + b",".join([b"1"] * 101), "too_wide", "101 cells"), (b"when,fc\n" + b"1,2\n" * (MOST_ROWS + 1), "too_long", f"{MOST_ROWS:,}"),
    ],
)  # fmt: skip
def test_what_is_no_table_is_told_as_what_it_is(data: bytes, code: str, says: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        sheet(data)
    assert (refused.value.fields[0].field, refused.value.fields[0].code) == (
        "file",
        code,
    ) and says in refused.value.message


@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
def test_separators_are_told_by_their_agreement(separator: str) -> None:
    out = io.StringIO()
    writer = csv.writer(out, delimiter=separator)
    writer.writerows(
        [
            ["Date", "Free Chlorine (ppm)", "Notes"],
            ["2026-05-01", "1.5", "a, b; c | d"],
            ["2026-05-02", "2", 'said\n"so"'],
            ["2026-05-03", "3", ""],
        ]
    )
    found = sheet(out.getvalue())
    assert found.separator == separator and found.rows[1] == ("2026-05-02", "2", 'said\n"so"')
    assert found.lines == (2, 3, 5)  # as an editor counts, whatever stands inside a cell


def test_the_heading_is_found_under_what_stands_above_it_or_made_up() -> None:
    found = sheet(
        "Pool report\nfor;Garden;;\n\nDate;pH;Free chlorine;x\n2026-05-01;7.4;1\n;;;\n2026-05-02;7.5;2;y;z\n"
    )
    assert found.head == ("Date", "pH", "Free chlorine", "x", "Column 5") and found.lines == (5, 7)
    assert found.rows == (("2026-05-01", "7.4", "1", "", ""), ("2026-05-02", "7.5", "2", "y", "z"))
    assert sheet("2026-05-01,7.4\n2026-05-02,7.5\n").head == ("Column 1", "Column 2")


def test_decoded_leaves_the_text_alone() -> None:
    assert decoded("a\u2028b\x0cpH".encode())[0] == "a\u2028b\x0cpH"


# --- Columns
# -------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("heading", "cells", "column"),
    [
        ("Free Chlorine (mg/L)", ["1.2"], Column("fc", "mg_l")), ("FC", ["1.2"], Column("fc", "ppm")), ("Free Cl2 [ppm]", ["1"], Column("fc", "ppm")),
        ("Total_Chlorine", ["1"], Column("tc", "ppm")), ("Combined chlorine", ["0"], Column("cc", "ppm")), ("pH-value", ["7"], Column("ph")), ("PH", ["7"], Column("ph")),
        ("Alkalinity, mg/L CaCO3", ["90"], Column("ta", "mg_l")), ("Alkalinity-M (mmol/l)", ["1.8"], Column("ta", "mmol_l")), ("TA", ["5 °dH"], Column("ta", "dh")),
        ("Calcium hardness", ["250"], Column("ch", "ppm")), ("Hardness (°dH)", ["12"], Column("ch", "dh", "Hardness of all kinds? Kumpan takes it as calcium's.")),
        ("Cyanuric acid", ["40"], Column("cya", "ppm")), ("Stabiliser", ["40"], Column("cya", "ppm")), ("Salt (g/L)", ["3.1"], Column("salt", "g_l")),
        ("Salinity", ["3.1"], Column("salt", "g_l", "No unit in the heading: taken as g/L by its size.")), ("Salt", ["3100"], Column("salt", "ppm")), ("Salt %", ["0.3"], Column("salt", "percent")),
        ("Water temp. (°F)", ["81"], Column("temp", "f")), ("temp_c", ["27"], Column("temp", "c")), ("Temp", ["81"], Column("temp", "f", "No unit in the heading: taken as °F by its size.")),
        ("Temperature", ["26"], Column("temp", "c", "No unit in the heading: taken as °C by its size.")), ("Temp", ["40"], Column("temp", "f", "The unit is not said: check it.")),
        ("Technician", ["R"], Column("performed_by")), ("Sample point", ["deep end"], Column("sampling_point")), ("Remarks", ["x"], Column("note")), ("Test method", ["strip"], Column("method")), ("Serial no.", ["A1"], Column("")), ("Lead", ["0"], Column("")),
    ],
)  # fmt: skip
def test_a_heading_says_what_its_column_holds(heading: str, cells: list[str], column: Column) -> None:
    found = Sheet(
        (heading, "Sample time"),
        tuple((c, "2026-05-01 08:00") for c in cells),
        tuple(range(2, 2 + len(cells))),
        "UTF-8",
        ",",
    )
    assert match_columns(found, metric=False) == (column, Column("when"))


def test_a_role_is_given_once_and_an_offset_beats_a_clock() -> None:
    found = sheet(
        "when,when_utc,fc_ppm,FC,Date,Time\n2026-05-01 08:00,2026-05-01T13:00:00Z,1,2,2026-05-01,08:00\n"
    )
    assert [c.role for c in match_columns(found, False)] == ["", "when", "fc", "", "", ""]
    assert [c.role for c in match_columns(sheet("Tag;Uhr;x;pH\n1.5.2026;8:15;7.4;7.3\n"), True)] == [
        "date",
        "time",
        "",
        "ph",
    ]


# --- Numbers and units
# ---------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("heading", "cell", "measure", "value"),
    [
        ("TA (mmol/L)", "1.6", "ta", 1.6 * CACO3 / 2), ("TA (°dH)", "5", "ta", 5 * 10 * CACO3 / CAO), ("Calcium (mmol/L)", "2.5", "ch", 2.5 * CACO3),
        ("Calcium hardness (°dH)", "14", "ch", 14 * 10 * CACO3 / CAO), ("Salt (g/L)", "3.2", "salt", 3200), ("Salt %", "0.32", "salt", 3200), ("Salt (ppt)", "3.2", "salt", 3200),
        ("Water temp (°F)", "81", "temp", (81 - 32) / 1.8), ("Temp (C)", "27", "temp", 27), ("pH", "7.4 pH", "ph", 7.4), ("FC", "1.5 mg/L", "fc", 1.5), ("TA", "90ppm", "ta", 90),
        ("TA", "5 °dH", "ta", 5 * 10 * CACO3 / CAO), ("Salt", "3,100", "salt", 3100), ("Salt", "3 100", "salt", 3100), ("Salt", "3'100.5", "salt", 3100.5), ("FC", "<0.02", "fc", 0.02), ("CH", ">500", "ch", 500),
    ],
)  # fmt: skip
def test_a_cell_becomes_its_value(heading: str, cell: str, measure: str, value: float) -> None:
    (found,) = values(f'when\t{heading}\n2026-05-01\t{cell}\n2026-05-01\t"{cell}"\n', decimal="point")
    assert found[measure] == pytest.approx(
        value, rel=1e-3, abs=0.5 if measure in ("ta", "ch") else 1e-9
    )  # ppm are kept whole


@pytest.mark.parametrize(
    ("cell", "decimal", "value"),
    [("1.5", "point", 1.5), ("1,5", "comma", 1.5), ("1.234,5", "comma", 1234.5), ("1,234.5", "point", 1234.5), ("1,5", "point", None), ("1.5", "comma", None), ("1,23,4", "point", None),
     ("1..5", "point", None), ("1234,567.8", "point", None), ("0.250", "point", 0.25), ("seven", "point", None), ("7.4x", "point", None), ("--", "point", "empty"), ("n/a", "comma", "empty"),
     ("OR", "point", "over"), ("-5", "point", None), ("1e3", "point", None), ("99999", "point", None), ("=1+1", "point", None), ("１２", "point", None)],
)  # fmt: skip
def test_decimals_are_read_as_said_and_nothing_is_guessed(
    cell: str, decimal: str, value: float | str | None
) -> None:
    found = checked(f"when;ch;ph\n2026-05-01;{cell};7\n", decimal=decimal)
    if value is None:
        assert (
            found.tests == []
            and [(t.line, t.column) for t in found.bad] == [(2, "ch")]
            and found.bad[0].message
        )
    else:
        readings = {r.measure: r.value for r in found.tests[0].readings}
        assert readings.get("ch") == (None if isinstance(value, str) else value) and bool(found.doubtful) == (
            value == "over"
        )


@pytest.mark.parametrize(
    ("cells", "sign"),
    [
        (("1,5", "2,25"), "comma"),
        (("1.5", "2"), "point"),
        (("3,100", "2,900"), "point"),
        (("1,5", "7.25", "3,5"), "comma"),
        (("1", "2"), "point"),
    ],
)
def test_the_decimal_sign_is_told_by_the_numbers(cells: tuple[str, ...], sign: str) -> None:
    assert (
        usual_settings(
            sheet("when;ph\n" + "".join(f"2026-05-0{i + 1};{c}\n" for i, c in enumerate(cells))), False
        )[0].decimal
        == sign
    )


# --- Times
# ---------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("text", "time", "order", "iso"),
    [
        ("2026-07-04", "", "dmy", "2026-07-04T12:00:00"), ("2026-07-04 18:30", "", "mdy", "2026-07-04T18:30:00"), ("2026-07-04T18:30:15.5Z", "", "mdy", "2026-07-04T18:30:15.500000+00:00"),
        ("2026-07-04T18:30:00-05:00", "", "ymd", "2026-07-04T18:30:00-05:00"), ("20260704T1830", "", "ymd", "2026-07-04T18:30:00"), ("7/4/2026", "6:30 PM", "mdy", "2026-07-04T18:30:00"),
        ("04/07/26", "", "dmy", "2026-07-04T12:00:00"), ("4.7.2026 8.05", "", "dmy", "2026-07-04T08:05:00"), ("26-7-4", "", "ymd", "2026-07-04T12:00:00"), ("4 Jul 2026", "", "ymd", "2026-07-04T12:00:00"),
        ("July 4, 2026 12:05 am", "", "dmy", "2026-07-04T00:05:00"), ("4-Jul-26", "12:15 p.m.", "ymd", "2026-07-04T12:15:00"), ("2026/7/4", "8h05", "mdy", "2026-07-04T08:05:00"),
        ("29.2.2024", "", "dmy", "2024-02-29T12:00:00"), ("31.4.2026", "", "dmy", None), ("13/13/2026", "", "mdy", None), ("29.2.2026", "", "dmy", None), ("yesterday", "", "ymd", None), ("", "", "ymd", None),
        ("2026-07-04", "25:00", "ymd", None), ("2026-07-04", "13:00 PM", "ymd", None), ("2026-07-04", "noon", "ymd", None), ("7.4", "", "dmy", None), ("99999999", "", "ymd", None), ("4 Foo 2026", "", "ymd", None),
    ],
)  # fmt: skip
def test_dates_as_people_write_them(text: str, time: str, order: str, iso: str | None) -> None:
    if iso is None:
        with pytest.raises(InvalidInput) as refused:
            parse_moment(text, time, order)
        assert refused.value.fields[0].field == "when" and refused.value.message
    else:
        assert parse_moment(text, time, order).isoformat() == iso


@pytest.mark.parametrize(
    ("cells", "us", "order"),
    [(["13/02/2026", "01/03/2026"], True, ("dmy", False)), (["02/13/2026"], False, ("mdy", False)), (["01/03/2026"], True, ("mdy", True)), (["01/03/2026"], False, ("dmy", True)),
     (["1.3.2026"], True, ("dmy", False)), (["2026-03-01"], True, ("ymd", False)), (["4 Jul 2026"], True, ("ymd", False)), (["31-12-26", "01-02-26"], True, ("dmy", True)), ([], True, ("ymd", False))],
)  # fmt: skip
def test_the_order_of_day_and_month_is_told_or_called_a_guess(
    cells: list[str], us: bool, order: tuple[str, bool]
) -> None:
    assert usual_order(cells, us) == order


@pytest.mark.parametrize(
    "zone", ["America/Chicago", "Europe/Vienna", "Australia/Lord_Howe", "America/Sao_Paulo"]
)
@given(minutes=st.integers(0, 366 * 24 * 60))
def test_every_minute_of_a_pools_clock_is_an_instant_or_never_was(zone: str, minutes: int) -> None:
    local, tz = datetime(2026, 1, 1) + timedelta(minutes=minutes), ZoneInfo(zone)
    either = {local.replace(tzinfo=tz, fold=fold).astimezone(UTC) for fold in (0, 1)}
    there = {instant for instant in either if instant.astimezone(tz).replace(tzinfo=None) == local}
    if not there:
        with pytest.raises(InvalidInput, match="did not exist"):
            on_clock(local, tz, "when")
    else:
        assert on_clock(local, tz, "when") == min(there) and came_twice(local, tz) == (len(there) == 2)


def test_clock_changes_in_a_table_are_told() -> None:
    # Chicago: 2026-03-08 02:00 to 03:00 never came; 2025-11-02 01:00 to 02:00 came twice (IANA).
    found = checked("when,ph\n2026-03-08 02:30,7.4\n2025-11-02 01:30,7.4\n2025-11-02 02:30,7.4\n")
    assert [(t.line, "did not exist" in t.message) for t in found.bad] == [(2, True)]
    assert [(t.line, "came twice" in t.message) for t in found.doubtful] == [(3, True)]
    assert [t.at.isoformat() for t in found.tests] == [
        "2025-11-02T06:30:00+00:00",
        "2025-11-02T08:30:00+00:00",
    ]


# --- Rows
# ----------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("rows", "line", "column", "says"),
    [
        ("2026-05-01,3,7.4,90,28\n2026-05-02,3,7.4,90,82", 3, "temp_c", "Is the unit right"), ("2026-05-01,60,7.4,90,", 2, "fc", "at the top"), ("2026-05-01,14,7.4,90,", 2, "ph", "no acid or base"),
        ("".join(f"2026-05-0{i},3,7.4,{ta},\n" for i, ta in enumerate((90, 95, 9, 92, 88), 1)), 4, "ta", "a slip of the decimal point"),
        ("2026-05-01 08:00,3,7.4,90,\n2026-05-01 08:00,4,7.4,90,", 3, "when", "another test of this very minute"), ("2026-05-01,<0.1,7.4,90,", 2, "fc", "past the end"),
    ],
)  # fmt: skip
def test_what_looks_odd_is_pointed_out_and_kept(rows: str, line: int, column: str, says: str) -> None:
    found = checked(f"when,fc,ph,ta,temp_c\n{rows}\n")
    told = [
        t for t in (*found.doubtful, *found.bad) if (t.line, t.column) == (line, column) and says in t.message
    ]
    assert told, (found.doubtful, found.bad)
    assert line not in [t.line for t in found.kept("doubtful")]


def test_all_or_nothing_unless_told_otherwise() -> None:
    found = checked(
        "when,ph,fc\n2026-05-01,7.4,2\n2026-05-02,x,y\n2026-05-03,7.4,14\ntotal,,\n2026-05-05,,\n"
    )
    with pytest.raises(
        InvalidInput, match=r"1 row cannot be read\. The first: line 3, fc: “y” is not a number\."
    ):
        found.kept("nothing")
    assert (
        [t.line for t in found.kept("bad")] == [2, 4]
        and [t.line for t in found.kept("doubtful")] == [2]
        and found.empty == 2
    )


@pytest.mark.parametrize(
    ("columns", "code"),
    [
        (("", "ph"), "no_time"),
        (("when", ""), "no_measure"),
        (("when", "ph", "ph"), "wrong_number"),
        (("ph", "ph"), "given_twice"),
        (("when", "when"), "given_twice"),
        (("note", "performed_by"), "no_time"),
    ],
)
def test_a_matching_that_cannot_work_says_why(columns: tuple[str, ...], code: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        check_rows(
            sheet("a,b\n2026-05-01,7.4\n"),
            Settings(tuple(map(Column, columns)), "ymd", "point", "drops"),
            Place(CHICAGO, NOW, {}),
        )
    assert refused.value.fields[0].field == "columns" and refused.value.fields[0].code == code


def test_methods_and_notes_come_with_their_row() -> None:
    found = checked(
        "when,ph,temp_f,method,note,who\n2026-05-01,7.4,80,strip,,\n2026-05-02,7.4,80,Drop kit;"
        " Thermometer,'=so,Robin\n2026-05-03,7.4,,magic,,\n2026-05-04,,,,only a note,\n"
    )
    assert [[r.method for r in t.readings] for t in found.tests] == [
        ["strip", "thermometer"],
        ["drops", "thermometer"],
        ["photometer"],
        [],
    ]
    assert [(t.performed_by, t.note) for t in found.tests] == [
        ("imported", ""),
        ("Robin", "=so"),
        ("imported", ""),
        ("imported", "only a note"),
    ]
    assert [(t.line, t.column) for t in found.doubtful] == [(4, "method")]


@given(
    st.lists(
        st.tuples(st.datetimes(datetime(2015, 1, 1), datetime(2026, 7, 1)), st.integers(0, 95), st.integers(65, 85), st.integers(4, 25), st.integers(33, 100)),
        min_size=1, max_size=12, unique_by=lambda r: r[0].replace(second=0, microsecond=0),
    ),
    st.sampled_from([",", ";", "\t"]), st.sampled_from(["point", "comma"]), st.sampled_from(["utf-8", "utf-16", "cp1252"]), st.sampled_from(["mdy", "dmy", "ymd"]), st.booleans(),
)  # fmt: skip
def test_whatever_a_report_writes_is_read_back(
    rows: list, separator: str, decimal: str, encoding: str, order: str, fahrenheit: bool
) -> None:
    """Any readings, in any dialect: the tests hold just these values, each at its instant, and a second
    reading finds them all known.
    """

    def number(value: float, decimals: int) -> str:
        return f"{value:.{decimals}f}".replace(".", "," if decimal == "comma" else ".")

    formats = {"mdy": "%m/%d/%Y %I:%M %p", "dmy": "%d/%m/%Y %H:%M", "ymd": "%Y-%m-%d %H:%M"}
    rows = [(at.replace(second=0, microsecond=0), *rest) for at, *rest in rows]
    rows = [r for r in rows if on_clock_or_none(r[0])]
    if not rows:
        return
    out = io.StringIO()
    writer = csv.writer(out, delimiter=separator)
    writer.writerow(
        ["Measured at", "Free chlorine", "pH", "Alkalinity", f"Water temp ({'°F' if fahrenheit else '°C'})"]
    )
    for at, fc, ph, ta, temp in rows:
        writer.writerow(
            [
                at.strftime(formats[order]),
                number(fc / 10, 1),
                number(ph / 10, 1),
                number(ta * 10, 0),
                number(temp if fahrenheit else (temp - 32) / 1.8, 2),
            ]
        )
    found = sheet(out.getvalue().encode(encoding))
    settings = Settings(usual_settings(found, False)[0].columns, order, decimal, "drops")
    result = check_rows(found, settings, Place(CHICAGO, NOW, {}))
    assert result.bad == [] and len(result.tests) == len(rows)
    for test, (at, fc, ph, ta, temp) in zip(result.tests, rows, strict=True):
        read = {r.measure: r.value for r in test.readings}
        assert test.at == on_clock(at, CHICAGO, "when")
        assert (read["fc"], read["ph"], read["ta"]) == (fc / 10, ph / 10, ta * 10) and c_to_f(
            read["temp"]
        ) == pytest.approx(temp, abs=0.02)
    seen: dict = {}
    for test in result.tests:
        seen.setdefault(test.at.replace(second=0, microsecond=0), []).append(
            frozenset((r.measure, round(r.value, 3)) for r in test.readings)
        )
    again = check_rows(found, settings, Place(CHICAGO, NOW, seen))
    assert again.tests == [] and len(again.again) == len(rows)


def on_clock_or_none(local: datetime) -> datetime | None:
    try:
        return None if came_twice(local, CHICAGO) else on_clock(local, CHICAGO, "when")
    except InvalidInput:
        return None


def test_every_measure_has_a_heading_of_its_own() -> None:
    for measure in MEASURES.values():
        found = Sheet((measure.label, "when"), (("1", "2026-05-01 08:00"),), (2,), "UTF-8", ",")
        assert match_columns(found, metric=True)[0].role == measure.id, measure.label
