"""Building a network on its schematic: menus of nodes and components, lines drawn from node to node, gauges,
lines of words, balancing, sizing.
"""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject, QPoint, Qt
from PyQt6.QtWidgets import QInputDialog, QMenu, QMessageBox

from mop_lantern.case import balanced, fresh_item, fresh_key, lines_of, sized
from mop_lantern.declare import discover
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.table_editor import TableEditor
from mop_lantern.desk.network.gauges import BESIDE, place_of
from mop_lantern.desk.network.labels import free_offset
from mop_lantern.desk.network.network_stage import NetworkStage
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.errors import EditError, Fault
from mop_lantern.judge.network_result import LINE_FIGURES, NODE_FIGURES, PART_FIGURES
from mop_lantern.network.component import Component

HOW = (
    "One line of the network a line: from where, through what, to where. Nodes that are new become "
    "junctions, tanks or "
    "reservoirs."
)
EXAMPLE = "From reservoir Sea through pump P1, 12 m of DN50 steel, valve V1 at 40 % to tank Header"
ADJUSTABLE = ("valve", "damper", "orifice")
GASES = ("air", "gas")


class Building(QObject):
    """What hands do to a network; every deed is one step of undo."""

    def __init__(
        self,
        document: Document,
        stage: NetworkStage,
        sheet: Sheet,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.stage = stage
        self.sheet = sheet
        self.table: TableEditor | None = None
        view = stage.view
        view.asked.connect(self.offer)
        view.drawn.connect(self.add_line)
        view.gauged.connect(lambda places: document.edit({"views.gauges": places}, "move gauge"))

    # --- menus ---

    def offer(self, path: str, at: QPoint) -> None:
        """Show the menu of what was asked for."""
        menu = self.menu_of(path)
        if menu is not None:
            menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            menu.popup(at)

    def menu_of(self, path: str) -> QMenu | None:
        """Give the menu of a node, a line, a component or a gauge."""
        if self.document.shown is None:
            return None
        menu = QMenu(self.stage)
        if not path:
            menu.addAction("Add lines from words …", self.ask_lines)
        elif path.startswith("gauge."):
            menu.addAction("Take this gauge away", lambda: self.unpin(path.removeprefix("gauge.")))
            menu.addAction(
                "Show its reading on the sheet",
                lambda: self.sheet.go_to(f"readings.{path.removeprefix('gauge.')}"),
            )
        else:
            self._offer_thing(menu, path)
        return menu

    def _offer_thing(self, menu: QMenu, path: str) -> None:
        steps = path.split(".")
        menu.addAction("Show on the sheet", lambda: self.sheet.go_to(path))
        gauges = menu.addMenu("Pin a gauge")
        assert gauges is not None
        case = self.document.shown
        assert case is not None
        figures = NODE_FIGURES if steps[1] == "nodes" else LINE_FIGURES if len(steps) == 3 else PART_FIGURES
        for key, (words, _) in figures.items():
            gauges.addAction(words.capitalize(), lambda k=key: self.pin(path, k))
        if steps[1] == "nodes":
            for key, species in case.network.species.items():
                gauges.addAction(f"Fraction of {species.title}", lambda k=key: self.pin(path, f"share.{k}"))
            menu.addAction("Draw a line from here", lambda: self.stage.view.draw_line_from(steps[2]))
            menu.addAction(
                "Add a line from here in words …", lambda: self.ask_lines(f"From {steps[2]} through ")
            )
        else:
            into = menu.addMenu("Add a component behind" if len(steps) == 5 else "Add a component at its end")
            assert into is not None
            for kind, model in discover("mop_lantern.network.components", Component).items():
                into.addAction(model.caption, lambda k=kind: self.insert(path, k))
        menu.addSeparator()
        menu.addAction("Remove", lambda: self.document.edit({path: None}, "remove"))

    # --- gauges ---

    def pin(self, path: str, figure: str) -> str:
        """Pin a gauge to a node, a line or a component: a reading that is shown there. Give its reading's
        id.
        """
        case = self.document.shown
        assert case is not None
        steps = path.split(".")
        what, name = (
            ("node", steps[2])
            if steps[1] == "nodes"
            else ("line", steps[2])
            if len(steps) == 3
            else ("part", f"{steps[2]}.{steps[4]}")
        )
        species = figure.removeprefix("share.") if figure.startswith("share.") else ""
        item: dict[str, Any] = (
            {
                "kind": "node_share",
                "node": name,
                "species": species,
            }
            if species
            else {
                "kind": f"{what}_value",
                what: name,
                "figure": figure,
            }
        )
        words = (
            case.network.species[species].title
            if species
            else {
                "node": NODE_FIGURES,
                "line": LINE_FIGURES,
                "part": PART_FIGURES,
            }[what][figure][0]
        )
        known = next(
            (
                key
                for key, reading in case.readings.items()
                if all(getattr(reading, field, None) == value for field, value in item.items())
            ),
            "",
        )
        key = known or fresh_key(case, "readings")
        title = f"{words}, {name}"
        edits: dict[str, Any] = {} if known else {f"readings.{key}": item | {"title": title}}
        if known in case.views.get("gauges", {}):
            return known
        places = dict(case.views.get("gauges", {}))
        place = place_of(self.stage.view, item["kind"], name)
        offset = free_offset(self.stage.view, place, title) if place is not None else BESIDE
        self.document.edit(edits | {"views.gauges": places | {key: list(offset)}}, "pin a gauge")
        return key

    def unpin(self, key: str) -> None:
        """Take a gauge away; its reading stays."""
        case = self.document.shown
        assert case is not None
        self.document.edit(
            {
                "views.gauges": {
                    name: place for name, place in case.views.get("gauges", {}).items() if name != key
                }
            },
            "take a gauge away",
        )

    # --- lines and components ---

    def add_line(
        self,
        start: str,
        end: str,
        place: Any,
    ) -> str:
        """Add a line from a node to another, or to a new junction at a place; give its id."""
        case = self.document.shown
        assert case is not None
        if start == end:
            return ""
        edits: dict[str, Any] = {}
        if not end:
            end = fresh_key(case, "network.nodes")
            height = getattr(case.network.nodes[start], "z", "0 m")
            edits[f"network.nodes.{end}"] = {"kind": "junction", "z": height}
            edits["views.places"] = dict(case.views.get("places", {})) | {end: list(place)}
        key = fresh_key(case, "network.lines")
        beside = next((line for line in case.network.lines.values() if start in (line.start, line.end)), None)
        fluid = beside.fluid if beside is not None else ""
        medium = case.media.get(fluid) or next(iter(case.media.values()), None)
        passage = next(
            (
                part.model_dump()
                for part in (beside.parts.values() if beside else ())
                if part.kind in ("pipe", "duct")
            ),
            None,
        )
        plain = (
            {"kind": "duct"}
            if medium is not None and medium.kind in GASES
            else {"kind": "pipe", "size": "DN50"}
        )
        edits[f"network.lines.{key}"] = {
            "start": start,
            "end": end,
            "fluid": fluid,
            "parts": {"line": passage or plain},
        }
        if self.document.edit(edits, "add line"):
            self.sheet.go_to(f"network.lines.{key}.parts.line")
            return key
        return ""

    def insert(self, path: str, kind: str) -> str:
        """Add a component of a kind behind another, or at the end of a line; give its path."""
        case = self.document.shown
        assert case is not None
        steps = path.split(".")
        line = case.as_data()["network"]["lines"][steps[2]]
        key = fresh_key(case, f"network.lines.{steps[2]}.parts", kind)
        item = fresh_item(case, f"network.lines.{steps[2]}.parts", kind, [])
        parts: dict[str, Any] = {}
        for name, part in line["parts"].items():
            parts[name] = part
            if len(steps) == 5 and name == steps[4]:
                parts[key] = item
        parts.setdefault(key, item)
        made = f"network.lines.{steps[2]}.parts.{key}"
        if self.document.edit({f"network.lines.{steps[2]}": line | {"parts": parts}}, f"add {kind}"):
            self.sheet.go_to(made)
        return made

    def ask_lines(self, begin: str = EXAMPLE) -> None:
        """Ask for sentences and add the lines they say."""
        text, sure = QInputDialog.getMultiLineText(self.stage, "Lines from words", HOW, begin)
        if sure and text.strip():
            self.add_lines(text)

    def add_lines(self, text: str) -> bool:
        """Add the lines that sentences say, in one step of undo; tell what is not understood."""
        case = self.document.shown
        if case is None:
            return False
        try:
            return self.document.edit(lines_of(text, case), "add lines")
        except EditError as problem:
            QMessageBox.warning(self.stage, "These lines are not understood", str(problem)[:3000])
            return False

    def show_table(self) -> None:
        """Show the components as a table."""
        case = self.document.shown
        if case is None or not case.network.lines:
            self.document.troubled.emit("There are no components yet: add a line first.")
            return
        if self.table is None:
            self.table = TableEditor(self.document, self.stage)
        self.table.fill()
        self.table.show()
        self.table.raise_()

    # --- balancing and sizing ---

    def ask_balance(self) -> None:
        """Ask for lines and their flow, and add the openings that give it as a variant."""
        case = self.document.case
        if case is None or not case.network.lines:
            return
        able = [
            key
            for key, line in case.network.lines.items()
            if any(part.kind in ADJUSTABLE for part in line.parts.values())
        ]
        text, sure = QInputDialog.getText(
            self.stage, "Balance", "Lines = flow of each:", text=f"{', '.join(able)} = 1 L/s"
        )
        if sure:
            self.balance(text)

    def balance(self, text: str) -> bool:
        """Balance the lines a text names, ``a, b, c = 2 L/s``; the openings become a variant."""
        case = self.document.case
        lines, _, flow = text.partition("=")
        if case is None:
            return False
        edits, faults = balanced(
            case, self.document.variant, [line for line in lines.split(",") if line.strip()], flow.strip()
        )
        return self._as_variant(edits, faults, f"balanced, {flow.strip()} each", "These flows cannot be had")

    def ask_sizes(self) -> None:
        """Ask for a rule and size pipes and ducts by it, as a variant."""
        case = self.document.case
        if case is None or not case.network.lines:
            return
        gas = any(
            part.kind in ("duct", "flexible")
            for line in case.network.lines.values()
            for part in line.parts.values()
        )
        how = (
            "Size pipes and ducts for the flows they have, by a friction (0.8 Pa/m) or a velocity (1.5 "
            "m/s).\nRuns, all when none are named = rule:"
        )
        text, sure = QInputDialog.getText(
            self.stage,
            "Size",
            how,
            text=f"{', '.join(case.network.lines)} = {'0.8 Pa/m' if gas else '1.5 m/s'}",
        )
        if sure:
            self.size(text)

    def size(self, text: str) -> bool:
        """Size the lines a text names, ``a, b = 1.5 m/s``; the sizes become a variant."""
        case = self.document.case
        lines, _, rule = text.rpartition("=")
        if case is None:
            return False
        edits, faults = sized(
            case,
            self.document.variant,
            [line.strip() for line in lines.split(",") if line.strip()],
            rule.strip(),
        )
        return self._as_variant(edits, faults, f"sized by {rule.strip()}", "These sizes cannot be found")

    def _as_variant(
        self,
        edits: dict[str, Any],
        faults: list[Fault],
        title: str,
        trouble: str,
    ) -> bool:
        """Keep edits as a new variant of the one shown, and show it; or tell what is wrong."""
        case = self.document.case
        assert case is not None
        if faults:
            QMessageBox.warning(self.stage, trouble, "\n".join(str(fault) for fault in faults)[:3000])
            return False
        key = next(letter for letter in "BCDEFGHIJKLMNOPQRSTUVWXYZ" if letter not in case.variants)
        before = dict(case.variants[self.document.variant].edits) if self.document.variant else {}
        done = self.document.edit({f"variants.{key}": {"title": title, "edits": before | edits}}, title)
        if done:
            self.document.choose(key)
        return done
