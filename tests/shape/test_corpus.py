"""The corpus of models: its quick part; all of it runs in ``bench --models``."""

from __future__ import annotations

from pathlib import Path

import pytest

from bench.corpus.run import SHARE, load
from bench.corpus.specimen import SPECIMENS, Specimen, outcome_of

load()
LONG = {
    "bolts.glb",
    "ball-fine.stl",
    "torn-tee.stl",
    "gaping.stl",
    "crossing-boxes-torn.stl",
    "slit-room.stl",
}
QUICK = [
    one
    for one in SPECIMENS
    if one.file not in LONG and "wrap" not in one.how and (".st" not in one.file[-5:] or ".stl" in one.file)
]


@pytest.mark.parametrize("one", QUICK, ids=lambda one: one.file)
def test_every_model_ends_in_a_grid_or_in_words_that_help(one: Specimen, tmp_path: Path) -> None:
    found = outcome_of(one, tmp_path)
    assert found.good, f"{found.kind}: {found.words}"


def test_the_corpus_is_large_and_of_all_kinds() -> None:
    endings = {Path(one.file).suffix for one in SPECIMENS}
    assert len(SPECIMENS) >= 60 and {".stl", ".obj", ".ply", ".glb", ".step", ".stp"} <= endings
    assert len({one.file for one in SPECIMENS}) == len(SPECIMENS) and SHARE >= 0.95
    messages = [one for one in SPECIMENS if one.volume is None]
    assert len(messages) > 12 and all(one.says for one in messages)
