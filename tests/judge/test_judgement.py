"""Readings and margin notes against hand-worked values."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.judge import FieldResult, Trust, measure, trust_list, verdict_in_words
from mop_lantern.judge.trust import FLAT_FAILS, FLAT_LIMIT, graded
from mop_lantern.solve import prepare


def linear_answer(channel: dict[str, Any], **edits: Any) -> tuple[Any, FieldResult]:
    """Make a field with u = 2 + 100 y, p = 5 - 30 x on the channel's grid."""
    settled = settle(apply(parse_case(channel), edits))
    mesh = prepare(settled)

    def u(place: Any) -> Any:
        return np.column_stack([2 + 100 * place[:, 1], 0 * place[:, 0], 0 * place[:, 0]])

    def p(place: Any) -> Any:
        return 5 - 30 * place[:, 0]

    edge = mesh.face_centre[mesh.n_internal :]
    flux = (u(mesh.face_centre) * mesh.area).sum(axis=1)
    shear = np.zeros((mesh.n_boundary, 3))
    return settled, FieldResult(mesh, u(mesh.centre), p(mesh.centre), flux, u(edge), p(edge), shear, 1000.0)


@pytest.mark.parametrize(
    ("reading", "expected", "dimension"),
    [
        ({"kind": "flow", "edge": "run.end"}, 2 * 0.01, "volume_flow"),
        ({"kind": "flow", "edge": "run.start", "way": "in", "measure": "mass_flow"}, 20.0, "mass_flow"),
        ({"kind": "edge_value", "edge": "run.end", "quantity": "pressure"}, 5 - 30 * 0.04, "pressure"),
        (
            {"kind": "edge_value", "edge": "run.left", "quantity": "pressure", "measure": "integral"},
            (5 - 30 * 0.02) * 0.04,
            "pressure_area",
        ),
        (
            {"kind": "edge_value", "edge": "run.end", "quantity": "u", "measure": "flow_mean"},
            2 + 1e4 * 0.01**2 / 12 / 2,
            "velocity",
        ),
        (
            {"kind": "edge_value", "edge": "run.end", "quantity": "u", "measure": "variation"},
            0.13991,  # of 2 + d with even d of 1/12 square, weighted with itself
            "number",
        ),
        (
            {"kind": "edge_value", "edge": "run.left", "quantity": "u", "measure": "variation"},
            np.nan,  # nothing flows there
            "number",
        ),
        (
            {"kind": "edge_value", "edge": "run.left", "quantity": "pressure", "measure": "max"},
            5 - 30 * 0.000625,
            "pressure",
        ),
        ({"kind": "drop", "edge": "run.start", "to": "run.end"}, 1.2, "pressure"),
        (
            {"kind": "loss_coefficient", "edge": "run.start", "to": "run.end"},
            1.2 / (0.5 * 1000 * 2**2),
            "number",
        ),
        (
            {"kind": "loss_coefficient", "edge": "run.end", "to": "run.start", "at": "second"},
            -1.2 / (0.5 * 1000 * 2**2),
            "number",
        ),
        ({"kind": "force", "edge": "run.left", "axis": "y"}, (5 - 30 * 0.02) * 0.04, "force"),
        ({"kind": "force", "edge": "run.start", "axis": "x", "part": "pressure"}, -0.05, "force"),
        ({"kind": "point", "at": ["11 mm", "2 mm"], "quantity": "u"}, 2.2, "velocity"),
        ({"kind": "point", "at": ["11 mm", "40 mm"], "quantity": "u"}, np.nan, "velocity"),
        (
            {"kind": "line", "start": ["20 mm", "-9 mm"], "end": ["20 mm", "9 mm"], "quantity": "u"},
            2.0,
            "velocity",
        ),
        ({"kind": "region", "quantity": "pressure", "measure": "mean"}, 5 - 30 * 0.02, "pressure"),
        ({"kind": "region", "quantity": "u", "measure": "integral"}, 2 * 4e-4, "velocity_volume"),
        (
            {
                "kind": "region",
                "extent": "box",
                "low": ["0 mm", "-5 mm"],
                "high": ["20 mm", "5 mm"],
                "quantity": "pressure",
            },
            5 - 30 * 0.01,
            "pressure",
        ),
        ({"kind": "evenness", "edges": ["run.start", "run.end"]}, 0.0, "number"),
        ({"kind": "evenness", "edges": ["run.start", "run.end"], "measure": "max_min"}, 1.0, "number"),
    ],
)
def test_readings(channel: dict[str, Any], reading: dict[str, Any], expected: float, dimension: str) -> None:
    settled, answer = linear_answer(channel, **{"readings.r": {**reading, "title": "R"}})
    taken = measure(settled.numbers.readings, answer)["r"]
    assert taken.dimension == dimension and taken.title == "R"
    assert taken.value == pytest.approx(expected, rel=0.01, abs=1e-9, nan_ok=True)


def notes(channel: dict[str, Any], **edits: Any) -> dict[str, tuple[str, str, dict[str, Any]]]:
    """Give the margin notes of a case by kind: path, level, edits."""
    return {
        note.kind: (note.path, note.level, note.edits)
        for note in review(apply(parse_case(channel), edits)).notes
    }


def test_quiet_case_has_only_facts(channel: dict[str, Any]) -> None:
    made = notes(channel)
    assert {"reynolds", "gap_cells", "cost", "regime"} == set(made)
    assert all(level == "ready" for _, level, _ in made.values())


@pytest.mark.parametrize(
    ("kind", "edits", "path"),
    [
        (
            "laminar_limit",
            {"field.openings.in.velocity": "0.2 m/s", "field.physics.flow": "laminar"},
            "field.openings.in",
        ),
        (
            "entrance_length",
            {"field.openings.in.profile": "uniform", "field.openings.in.velocity": "0.1 m/s"},
            "field.openings.in",
        ),
        ("plane_for_round", {"shape.depth": "10 mm"}, "shape"),
        ("gap_cells", {"field.grid.cell": "3 mm", "field.grid.across": "2"}, "field.grid"),
        ("cost", {"field.grid.cell": "0.03 mm"}, "field.grid"),
    ],
)
def test_cautions_and_their_remedies(
    channel: dict[str, Any], kind: str, edits: dict[str, Any], path: str
) -> None:
    made = notes(channel, **edits)
    assert made[kind][:2] == (path, "caution")
    remedy = made[kind][2]
    if remedy:
        assert notes(channel, **{**edits, **remedy}).get(kind, ("", "ready"))[1] != "caution"


def test_reynolds_number_is_on_the_hydraulic_diameter(channel: dict[str, Any]) -> None:
    facts = review(parse_case(channel)).facts
    assert facts is not None
    # Re = rho U 2 H / mu for plates
    assert facts.reynolds(facts.openings[0]) == pytest.approx(1000 * 0.01 * 0.02 / 1e-3)
    assert facts.gap == pytest.approx(0.01)


def flat_to(change: float) -> Trust:
    return graded("readings", change, FLAT_LIMIT, FLAT_FAILS, "steady to that")


def test_trust_fails_what_does_not_balance(channel: dict[str, Any]) -> None:
    _, answer = linear_answer(channel)
    good = {item.id: item.verdict for item in trust_list(answer, 1e-7, 1e-6, flat_to(1e-4), 1e-9, 12)}
    assert set(good.values()) == {"holds"}
    _, answer = linear_answer(channel)
    answer.flux[answer.mesh.n_internal + answer.mesh.faces_of("run.end")[0]] *= -1.2
    bad = {item.id: item.verdict for item in trust_list(answer, 1e-5, 1e-6, flat_to(2e-2), 1e-3, 5)}
    assert bad == {
        "mass": "fails",
        "mass_cells": "fails",
        "momentum": "fails",
        "readings": "fails",
        "backflow": "caution",
        "gap": "caution",
    }


@pytest.mark.parametrize(
    ("verdicts", "converged", "stopped", "words"),
    [
        ("holds holds", True, False, "solved and trusted"),
        ("holds caution", True, False, "solved; trusted but for 1 caution"),
        ("caution caution", True, False, "solved; trusted but for 2 cautions"),
        ("fails holds", False, False, "solved, not trusted"),
        ("fails holds", False, True, "stopped"),
    ],
)
def test_the_end_of_a_solve_is_told_with_its_cautions(
    verdicts: str, converged: bool, stopped: bool, words: str
) -> None:
    assert (
        verdict_in_words([{"verdict": verdict} for verdict in verdicts.split()], converged, stopped) == words
    )


@pytest.mark.parametrize(
    ("residual", "limit", "change", "verdict"),
    [
        (9e-5, 1e-4, 1e-4, "holds"),
        (3e-4, 1e-4, 5e-3, "caution"),
        (3e-4, 1e-4, 2e-2, "fails"),  # readings swing
        (6e-4, 1e-4, 1e-4, "fails"),  # too far from rest
        (3e-4, 1e-4, 0.0, "fails"),  # nothing that the flow moves is read
        (3e-6, 1e-6, 1e-4, "fails"),  # laminar flow comes to rest
    ],
)
def test_turbulent_flow_nearly_at_rest_is_a_caution_where_readings_stand(
    channel: dict[str, Any], residual: float, limit: float, change: float, verdict: str
) -> None:
    _, answer = linear_answer(channel)
    flat = graded("readings", change, FLAT_LIMIT, FLAT_FAILS, "")
    items = {item.id: item for item in trust_list(answer, residual, limit, flat, 1e-9, 12)}
    assert items["momentum"].verdict == verdict
    if verdict == "caution":
        assert "0.5%" in items["momentum"].text
