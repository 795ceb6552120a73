"""The trust list: how far a result can be believed, item by item."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from mop_lantern.judge.facts import FEWEST_ACROSS, GUESS_BELOW, SLACK, Note
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.network_result import NetworkResult

MASS_LIMIT = 1e-6  # of the through-flow
FLOOR, NEARLY = 1e-5, 5.0  # a residual limit that closures set; times that limit a flow nearly at rest
FLAT_LIMIT = 1e-3
FLAT_FAILS = 1e-2  # readings that swing this far have no value
BALANCE_LIMIT = 1e-4  # of what passes, for everything carried: it moves no reading by more
BALANCE_FAILS = 1e-3
# of a reading; chosen on one half of the check values (25 of 29 bad readings seen), judged on the other (28
# of 29)
GUESS_LIMIT = 0.0225
ENERGY_LIMIT, ENERGY_FAILS = 1e-5, 1e-3  # of the largest pressure, along a run of a network


@dataclass(frozen=True)
class Trust:
    """One item: what was checked, how it came out ("holds", "caution" or "fails"), the figure and its
    limit. ``remedy`` : words of a button, if any; ``edits`` : what it does, path to value.
    """

    id: str
    verdict: str
    value: float
    limit: float
    text: str
    remedy: str = ""
    edits: dict[str, Any] = field(default_factory=dict)

    def as_dict(self) -> dict[str, Any]:
        """Give the item as plain data; without a remedy where there is none."""
        told = asdict(self)
        if not self.remedy:
            del told["remedy"], told["edits"]
        return told


def trust_list(
    answer: FieldResult,
    momentum: float,
    momentum_limit: float,
    flat: Trust,
    imbalance: float,
    gap_cells: float,
    both_ways: Collection[str] = (),
) -> list[Trust]:
    """Judge a result.

    Parameters
    ----------
    momentum : scaled momentum residual. flat : how steady the readings are.
    imbalance : largest local mass imbalance summed over cells, of the through-flow. gap_cells : cells across
    the narrowest gap, 0 when there is none. both_ways : edges where fluid may come and go as it likes.
    """
    if not answer.wet.any():  # solids alone: heat is judged by its own checks
        return []
    through = answer.passing
    net = abs(float(answer.outflow.sum())) / through if through else 0.0
    items = [
        _item("mass", net, MASS_LIMIT, f"What enters leaves, to {max(net, 1e-16):.0e} of the through-flow."),
        _item(
            "mass_cells",
            imbalance,
            MASS_LIMIT,
            f"Mass balances in every cell, to {max(imbalance, 1e-16):.0e} of the through-flow in sum.",
        ),
        _momentum(momentum, momentum_limit, flat),
        flat,
    ]
    back = _inflow_at_outlets(answer, both_ways)
    if back:
        items.append(
            Trust(
                "backflow",
                "caution",
                back,
                0.0,
                f"{back:.1%} of the through-flow re-enters where fluid leaves on the whole.",
            )
        )
    if gap_cells:
        verdict = "holds" if gap_cells >= FEWEST_ACROSS - SLACK else "caution"
        count = f"{gap_cells:.2g}"
        text = (
            f"{count} {'cell lies' if count == '1' else 'cells lie'} across the narrowest gap "
            f"({FEWEST_ACROSS:.0f} wanted)."
        )
        text += " What flows through it is a guess." if gap_cells < GUESS_BELOW - SLACK else ""
        items.append(
            Trust(
                "gap",
                verdict,
                gap_cells,
                FEWEST_ACROSS,
                text,
            )
        )
    return items


def _momentum(residual: float, limit: float, flat: Trust) -> Trust:
    """Judge the momentum residual: one a little above the limit of turbulent flow is a caution where readings
    that the flow moves stand still or nearly so.
    """
    text = f"Momentum residual {residual:.1e}, scaled"
    near = limit >= FLOOR and limit < residual <= NEARLY * limit
    if near and flat.verdict != "fails" and flat.value > 0:
        text += f": over {limit:.0e}, but readings are steady to {flat.value:.1%}."
        return Trust("momentum", "caution", residual, limit, text)
    return _item("momentum", residual, limit, f"{text}.")


def note_trust(notes: list[Note]) -> list[Trust]:
    """Take cautions of the review along with an answer, one item a kind; one that fails speaks first."""
    kinds: dict[str, list[Note]] = {}
    for note in sorted(notes, key=lambda note: not note.fails):
        kinds.setdefault(note.kind, []).append(note)
    items = []
    for kind, alike in kinds.items():
        first = alike[0]
        at = first.path.rpartition(".")[2] if first.path.count(".") > 1 else ""
        also = f" So {'are' if len(alike) > 2 else 'is'} {len(alike) - 1} more." if len(alike) > 1 else ""
        verdict = "fails" if first.fails else "caution"
        items.append(
            Trust(
                f"note.{kind}",
                verdict,
                float(len(alike)),
                0.0,
                f"{at}: {first.text}{also}" if at else first.text + also,
            )
        )
    return items


def network_trust(working: NetworkResult) -> list[Trust]:
    """Judge a solved network: mass at every node, energy along every run, heat where it was followed."""
    largest = max(
        (abs(node["pressure"]) for node in working.nodes.values() if np.isfinite(node["pressure"])),
        default=1.0,
    )
    share = working.energy / max(largest, 1.0)
    items = [
        _item(
            "mass",
            working.imbalance,
            1e-9,
            f"Mass balances at every node, to {max(working.imbalance, 1e-16):.0e} of the largest flow.",
        ),
        graded(
            "energy",
            share,
            ENERGY_LIMIT,
            ENERGY_FAILS,
            f"Pressures add up along every line, to {max(share, 1e-16):.0e} of the largest pressure.",
        ),
    ]
    if working.thermal:
        items.append(
            graded(
                "heat",
                working.heat_balance,
                BALANCE_LIMIT,
                BALANCE_FAILS,
                f"Heat balances, to {max(working.heat_balance, 1e-16):.0e} of what passes.",
            )
        )
    for name, off in working.extra.get("species", {}).items():
        if np.isfinite(off):
            items.append(
                graded(
                    f"species.{name}",
                    off,
                    BALANCE_LIMIT,
                    BALANCE_FAILS,
                    f"{name} balances, to {max(off, 1e-16):.0e} of what passes.",
                )
            )
        else:
            items.append(
                Trust(
                    f"species.{name}",
                    "fails",
                    1.0,
                    BALANCE_LIMIT,
                    f"{name} is released where nothing carries it off: it has no state at rest.",
                )
            )
    lost = [name for name, node in working.nodes.items() if not np.isfinite(node["pressure"])]
    if lost:
        items.append(
            Trust(
                "apart",
                "caution",
                float(len(lost)),
                0.0,
                f"Nothing sets the pressure of {', '.join(lost[:5])}: every way there is shut.",
            )
        )
    return items


def verdict_in_words(trust: list[dict[str, Any]], converged: bool, stopped: bool) -> str:
    """Say in a few words how a solve ended; ``trust`` : its items as plain data."""
    if not converged:
        return "stopped" if stopped else "solved, not trusted"
    cautions = sum(item["verdict"] == "caution" for item in trust)
    if not cautions:
        return "solved and trusted"
    return f"solved; trusted but for {cautions} caution{'s' if cautions > 1 else ''}"


def graded(
    key: str,
    value: float,
    limit: float,
    fails: float,
    text: str,
) -> Trust:
    """Judge a figure by what it can do to the readings: up to ``limit`` it holds, up to ``fails`` it is a
    caution.
    """
    verdict = "holds" if value <= limit else "caution" if value <= fails else "fails"
    return Trust(
        key,
        verdict,
        float(value),
        limit,
        text,
    )


def _item(
    key: str,
    value: float,
    limit: float,
    text: str,
) -> Trust:
    return Trust(
        key,
        "holds" if value <= limit else "fails",
        float(value),
        limit,
        text,
    )


def _inflow_at_outlets(answer: FieldResult, both_ways: Collection[str]) -> float:
    """Share of the through-flow that comes back in through edges that let fluid out on the whole, or as much
    out as in, but for those where it may do so.
    """
    mesh = answer.mesh
    out = answer.outflow
    back = 0.0
    for name in set(mesh.patch_names) - set(both_ways):
        flows = out[mesh.faces_of(name)]
        if flows.sum() > -1e-6 * np.abs(flows).sum():
            back += float(-np.minimum(flows, 0).sum())
    return back / answer.passing if back > 1e-6 * answer.passing else 0.0
