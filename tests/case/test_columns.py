"""Tables of columns as people have them: any separator, decimal commas, headings with or without units."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from mop_lantern.case import columns as module
from mop_lantern.case import parse_columns, read_columns
from mop_lantern.errors import FileError


@pytest.mark.parametrize(
    "text",
    [
        "t [s],h [mm]\n0,1\n2,3.5\n",
        "t [s];h [mm]\n0;1\n2;3,5\n",
        "t [s]\th [mm]\n0\t1\n2\t3.5\n",
        "t (s), h (mm)\n0, 1\n2, 3.5\n",
        "# measured on the sluice\nt [s];h [mm]\n\n0;1\n# a pause\n2;3,5\n",
        "t [s];h [mm];\n0;1;\n2;3,5;\n",
        "\r\nt [s];h [mm]\r\n0;1\r\n2;3.5\r\n",
    ],
)
def test_the_same_table_in_many_hands(text: str) -> None:
    found = parse_columns(text, "x.csv")
    assert found.names == ("t", "h") and found.units == ("s", "mm")
    assert found.rows == ((0.0, 1.0), (2.0, 3.5))


def test_numbers_without_headings_get_names() -> None:
    found = parse_columns("0,1\n2,3\n", "x.csv")
    assert found.names == ("column 1", "column 2") and found.units == ("", "")
    assert len(found.rows) == 2


def test_several_columns_and_signed_powers() -> None:
    found = parse_columns("x [m],u [m/s],p [kPa]\n-1e-3,+2.5,1E2\n.5,-0,3.\n", "x.csv")
    assert found.rows == ((-1e-3, 2.5, 100.0), (0.5, 0.0, 3.0))


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "empty"),
        ("\n\n# only a remark\n", "empty"),
        ("x [m]\n1\n2\n", "two columns"),
        ("x,y\n1,2\n", "two rows"),
        ("x,y\n1,2\n3,\n", "row 3"),
        ("x,y\n1,2\n3,four\n", "row 3"),
        ("x,y\n1,2\nnan,3\n", "row 3"),
        ("x,y\n1,2\n1e999,3\n", "row 3"),
        ("x,y\n1,2\n3,1e260\n", "too large"),
        ("x [m], y [wings]\n1,2\n3,4\n", "wings"),
    ],
)
def test_what_is_no_table_is_told_with_its_row(text: str, told: str) -> None:
    with pytest.raises(FileError, match="x.csv") as problem:
        parse_columns(text, "x.csv")
    assert told in str(problem.value)


def test_too_many_rows_are_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "MOST_ROWS", 5)
    assert len(parse_columns("a,b\n" + "1,2\n" * 5, "x").rows) == 5
    with pytest.raises(FileError, match="Thin"):
        parse_columns("a,b\n" + "1,2\n" * 6, "x")


def test_files_may_begin_with_a_mark_of_their_encoding(tmp_path: Path) -> None:
    path = tmp_path / "bom.csv"
    path.write_bytes(b"\xef\xbb\xbft [s],h [m]\n0,1\n1,2\n")
    assert read_columns(path).names == ("t", "h")
    path.write_bytes(bytes(range(128, 256)))
    with pytest.raises(FileError, match="UTF-8"):
        read_columns(path)


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("mark", [",", ";", "\t"])
def test_written_numbers_are_read_as_they_were(seed: int, mark: str) -> None:
    rng = np.random.default_rng(seed)
    rows = rng.standard_normal((int(rng.integers(2, 30)), int(rng.integers(2, 6)))) * 10.0 ** rng.integers(
        -6, 6
    )
    heads = mark.join(f"c{k} [m]" for k in range(rows.shape[1]))
    text = heads + "\n" + "\n".join(mark.join(repr(float(value)) for value in row) for row in rows)
    assert np.array_equal(parse_columns(text, "x").rows, rows)


def test_commas_that_may_part_thousands_are_asked_about() -> None:
    with pytest.raises(FileError, match=r"“1,500” may be 1.500 or 1500. Write its column"):
        parse_columns("flow [L/h];head [m]\n1,500;20\n2,250;10\n", "pump.csv")
    found = parse_columns("flow [L/h];head [m]\n1,500;20\n2,25;10\n", "pump.csv")  # the second shows decimals
    assert found.rows == ((1.5, 20.0), (2.25, 10.0))
    assert parse_columns("x;u\n0,125;1\n0,250;2\n", "x.csv").rows[0] == (0.125, 1.0)
