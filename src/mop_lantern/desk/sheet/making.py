"""The editor a slot of a sentence needs."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from mop_lantern.case.sentences import Slot
from mop_lantern.desk.sheet.editors import ChoiceButton, Commit, Offers, ValueEdit
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.units import DIMENSIONS

CHOSEN = ("quantity", "species", "network_species", "node", "line", "component", "medium", "body")


def make_editor(
    slot: Slot,
    offers: Offers,
    commit: Commit,
    parent: QWidget,
) -> QWidget:
    """Make the editor a slot needs."""
    rule = slot.declared
    if rule is not None and rule.form in ("choice", "flag"):
        editor: QWidget = ChoiceButton(
            slot, [(value, words) for value, words in rule.options], commit, parent
        )
    elif (
        rule is not None
        and rule.form == "reference"
        and rule.of == "edge"
        and not isinstance(slot.value, list | tuple)
    ):
        editor = TagEdit(slot, offers, commit, parent)
    elif rule is not None and rule.form == "reference" and rule.of in CHOSEN:
        editor = ChoiceButton(slot, offers(rule.of), commit, parent)
    else:
        editor = ValueEdit(slot, commit, parent)
    editor.setObjectName(slot.path)
    editor.setAccessibleName(rule.label if rule else slot.field)
    editor.setToolTip(_tip(slot))
    return editor


def _tip(slot: Slot) -> str:
    rule = slot.declared
    if rule is None:
        return slot.path
    units = (
        [unit for unit in DIMENSIONS[rule.dimension].units if unit]
        if rule.form in ("quantity", "point", "points")
        else []
    )
    extra = (
        f"\nAny unit of {DIMENSIONS[rule.dimension].label}: {', '.join(units)} … or = an expression."
        if units
        else ""
    )
    return f"{rule.label}: {rule.help}{extra}\n{slot.path}"
