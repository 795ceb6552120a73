"""Faces of a space and edges of a plane under the hand: made openings, walls and readings; faces picked,
taken together, hidden; patches laid on them.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, QPoint, Qt
from PyQt6.QtWidgets import QMenu

from mop_lantern.case import fresh_item, fresh_key
from mop_lantern.case.models import rims_in
from mop_lantern.case.patches import patch_edits
from mop_lantern.case.sections import package_of
from mop_lantern.case.totals import made_equal
from mop_lantern.declare import declared, discover
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.bringing_models import BringingModels
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.desk.stage.placing import Placing
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.desk.stage.tools.choosing import ChoosingTool
from mop_lantern.desk.stage.tools.patch import PatchTool
from mop_lantern.errors import LanternError
from mop_lantern.scene.picking import Picked
from mop_lantern.shape.alike import in_plane_with, named_alike, touching
from mop_lantern.units import preferred, show

SAME_SPOT = 4  # px: a click no farther from the last goes on to the next face behind
VEILS = (
    ("not at all", 0.0),
    ("as translucent", 0.25),
    ("full", 1.0),
)


class FaceTools(QObject):
    """What hands do to faces and edges; every deed that changes the case is one step of undo.

    ``models`` closes open rims of models and puts the fluid inside or around them.
    """

    def __init__(
        self,
        document: Document,
        stage: Stage,
        sheet: Sheet,
        parent: QObject,
        models: BringingModels,
    ) -> None:
        super().__init__(parent)
        self.models = models
        self.document = document
        self.stage = stage
        self.sheet = sheet
        self.view = stage.view
        self.placing = Placing(document, stage.view, sheet)
        self.chosen: list[str] = []
        self._last: tuple[QPoint, int] = (QPoint(-99, -99), 0)
        self.view.hands.signals.clicked.connect(self.click)
        self.view.asked.connect(self.offer)
        stage.handles_toggled.connect(lambda on: None if on else self.choose([]))

    @property
    def picture(self) -> Any:
        """The picture on the stage."""
        return self.view.ensure()

    def under(self, at: QPoint) -> list[Picked]:
        """Give the faces under a pixel."""
        return list(self.picture.pick(at.x(), at.y(), self.view.pane))

    # --- choosing ---

    def name_at(self, at: QPoint) -> str:
        """Give the edge of a plane or the face of a space under a pixel, or ""."""
        if self.picture.surface is None:
            return self.view.hands.edge_at(at)
        return next((picked.name for picked in self.under(at)), "")

    def ask(self, take: Callable[[str], Any]) -> None:
        """Let the next click on the stage name an edge or a face."""

        def chosen(name: str) -> None:
            self.ask_no_more()
            take(name)

        self.ask_no_more()
        self.view.take_up(ChoosingTool(self.view, self.view.looking, self.name_at, self.view.light, chosen))

    def ask_no_more(self) -> None:
        """Go back to what the pointer did before."""
        if isinstance(self.view.tool, ChoosingTool):
            self.view.light("")
            self.view.put_down()

    def click(self, at: QPoint, add: bool) -> None:
        """Choose the face under a pixel; the same place again, the next behind it."""
        found = self.under(at)
        if not found:
            self.choose([])
            return
        again = (at - self._last[0]).manhattanLength() <= SAME_SPOT and not add
        turn = (self._last[1] + 1) % len(found) if again else 0
        self._last = at, turn
        name = found[turn].name
        if add:
            self.choose(
                [one for one in self.chosen if one != name] if name in self.chosen else [*self.chosen, name]
            )
        else:
            self.choose([name])
        self.view.hands.signals.edge.emit(name)

    def choose(self, names: list[str]) -> None:
        """Mark faces as chosen, and say what they are."""
        self.chosen = names
        self.picture.set_options(chosen=tuple(names))
        self.view.redraw()
        if names:
            self.document.troubled.emit(self.words(names))

    def words(self, names: list[str]) -> str:
        """Say which faces these are, and their area."""
        surface = self.picture.surface
        case = self.document.shown
        if surface is None or case is None:
            return ""
        area = sum(surface.edge_lengths.get(name, 0.0) for name in names)
        return f"{', '.join(names)}: {show(area, 'area', preferred('area', case.units))}"

    # --- the menu ---

    def offer(self, at: QPoint, where: QPoint) -> None:
        """Show the menu of a place on the stage."""
        menu = self.menu_at(at)
        if menu is not None:
            menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            menu.popup(where)

    def menu_at(self, at: QPoint) -> QMenu | None:
        """Give the menu of a place on the stage."""
        case = self.document.shown
        if case is None:
            return None
        menu = QMenu(self.stage)
        if self.picture.surface is None:
            self._offer_edge(menu, self.view.hands.edge_at(at))
            self.placing.offer(menu, at)
            menu.addSeparator()
            menu.addAction("Show everything", self.view.fit)
            return menu
        found = self.under(at)
        if found:
            names = self.chosen if found[0].name in self.chosen else [found[0].name]
            head = menu.addAction(self.words(names))
            assert head is not None
            head.setEnabled(False)
            self._offer_conditions(menu, names)
            self._offer_choosing(menu, found, names)
            self._offer_patches(menu, found[0])
            self._offer_rims(menu, found[0])
            self._offer_fluid(menu, found[0])
            menu.addSeparator()
            menu.addAction("Hide it" if len(names) == 1 else "Hide them", lambda: self.hide(names))
        if self.picture.options.hidden:
            menu.addAction("Show all faces", lambda: self.hide([]))
        veil = menu.addMenu("Draw near walls")
        assert veil is not None
        for words, opacity in VEILS:
            action = veil.addAction(words, lambda o=opacity: self.veil(o))
            assert action is not None
            action.setCheckable(True)
            action.setChecked(self.picture.options.near_walls == opacity)
        menu.addSeparator()
        self.placing.offer(menu, at)
        place = self.picture.on_section(at.x(), at.y(), self.view.pane)
        if place is not None:
            menu.addAction("The fluid is here (wet point on the section)", lambda: self.wet(place))
        menu.addAction("Let as much leave as enters", self.make_equal)
        return menu

    def _offer_edge(self, menu: QMenu, edge: str) -> None:
        """Offer what can be done with an edge of a plane."""
        case = self.document.shown
        shape = self.picture.shape
        if case is not None and shape is not None and edge:
            length = show(shape.edge_lengths.get(edge, 0.0), "length", preferred("length", case.units))
            head = menu.addAction(f"{edge}: {length} long")
            assert head is not None
            head.setEnabled(False)
            self._offer_conditions(menu, [edge])
            menu.addSeparator()

    def _offer_conditions(self, menu: QMenu, names: list[str]) -> None:
        case = self.document.shown
        assert case is not None
        parts = "shape.solids" if case.shape.space == "space" else "shape.parts"
        openings = {key: item for key, item in case.field.openings.items() if item.edge in names}
        for key, item in openings.items():
            if hasattr(item, "way"):
                menu.addAction(
                    "Let it flow out" if item.way == "in" else "Let it flow in",
                    lambda k=key, w=item.way: self.document.edit(
                        {f"field.openings.{k}.way": "out" if w == "in" else "in"}, "flip"
                    ),
                )
            menu.addAction(
                f"Show its opening {key} on the sheet", lambda k=key: self.sheet.go_to(f"field.openings.{k}")
            )
            menu.addAction(
                f"Close its opening {key}",
                lambda k=key: self.document.edit({f"field.openings.{k}": None}, "close an opening"),
            )
        for words, section in (
            ("Make it an opening", "field.openings"),
            ("Make it a wall", "field.walls"),
            ("Let heat through it", "field.warm"),
            ("Read here", "readings"),
            ("Refine the grid at it", "field.grid.refine"),
        ):
            if openings and section in ("field.openings", "field.walls", "field.warm"):
                continue
            plan = menu.addMenu(words)
            assert plan is not None
            for kind, model in discover(package_of(section)).items():
                rules = declared(model)
                if "edge" in rules and model.model_fields["edge"].is_required():
                    plan.addAction(model.caption, lambda s=section, k=kind: self.condition(s, k, names))
        menu.addAction(
            "Show its part on the sheet", lambda: self.sheet.go_to(f"{parts}.{names[0].split('.')[0]}")
        )

    def _offer_choosing(
        self,
        menu: QMenu,
        found: list[Picked],
        names: list[str],
    ) -> None:
        surface = self.picture.surface
        more = menu.addMenu("Choose")
        assert more is not None
        for one in found[:12]:
            more.addAction(
                one.name + ("" if one.from_fluid else " (seen from behind)"),
                lambda n=one.name: self.choose([n]),
            )
        more.addSeparator()
        for words, rule in (
            ("With all in its plane", in_plane_with),
            ("With what it touches", touching),
            ("With faces named alike", named_alike),
        ):
            more.addAction(words, lambda r=rule: self.choose(r(surface, found[0].name)))
        if len(names) > 1:
            menu.addAction(
                f"Take these {len(names)} faces together as one", lambda: self.take_together(names)
            )

    def _offer_patches(self, menu: QMenu, one: Picked) -> None:
        patch = menu.addMenu("Lay a patch on it")
        assert patch is not None
        for words, outline in (
            ("Rectangle: drag from corner to corner", "rectangular"),
            ("Disc: drag from its centre to its edge", "round"),
        ):
            patch.addAction(
                words,
                lambda o=outline: self.view.take_up(PatchTool(self.view, one.name, one.place, o, self._laid)),
            )

    def _offer_rims(self, menu: QMenu, one: Picked) -> None:
        """Offer to close the open rims of a model, the nearest first."""
        case = self.document.shown
        key = one.name.split(".")[0]
        assert case is not None
        count = rims_in(case, key)
        if not count:
            return
        # the review shows rims of all models in order; those of this one are told by their nearness
        trails = self.view.trails
        near = min(
            range(len(trails)),
            key=lambda k: float(np.linalg.norm(np.asarray(trails[k]) - one.place, axis=1).min()),
            default=-1,
        )
        menu.addSeparator()
        if len(trails) == count:
            menu.addAction("Close the open rim nearest to here", lambda: self.models.close_rims(key, near))
        menu.addAction(
            f"Close all {count} open rims of {key}" if count > 1 else f"Close the open rim of {key}",
            lambda: self.models.close_rims(key, None),
        )

    def _offer_fluid(self, menu: QMenu, one: Picked) -> None:
        """Offer to put the fluid inside a model, around it, or into its place."""
        case = self.document.shown
        key = one.name.split(".")[0]
        assert case is not None
        part = case.shape.solids.get(getattr(case.shape.solids.get(key), "of", key))
        if part is None or part.kind != "model":
            return
        key = next(name for name, each in case.shape.solids.items() if each is part)
        where = menu.addMenu(f"The fluid of {key} is")
        assert where is not None
        for words, way in (
            ("Inside it: its open ends are capped", "inside"),
            ("Around it, in a box", "around"),
            ("The model itself", "fluid"),
        ):
            where.addAction(words, lambda w=way: self.models.put_fluid(key, w))
        wrap = menu.addMenu(f"Wrap {key} watertight")
        assert wrap is not None
        wrap.addAction("From outside …", lambda: self.models.ask_wrap(key, False))
        inside = wrap.addAction("The space about the wet point …", lambda: self.models.ask_wrap(key, True))
        assert inside is not None
        inside.setEnabled(bool(case.shape.wet))
        parts = menu.addMenu(f"Parts of {key}")
        assert parts is not None
        parts.addAction("Every body a part of its own", lambda: self.models.split(key, "body"))
        parts.addAction("Every layer a part of its own", lambda: self.models.split(key, "layer"))
        parts.addAction("Exclude small bodies …", lambda: self.models.ask_least(key))

    # --- deeds ---

    def condition(
        self,
        section: str,
        kind: str,
        names: list[str],
    ) -> str:
        """Add an opening, a wall, a reading or a refinement at faces; several become one first. Give its
        path.
        """
        case = self.document.shown
        assert case is not None
        name = names[0] if len(names) == 1 else self.take_together(names)
        case = self.document.shown
        assert case is not None
        path = f"{section}.{fresh_key(case, section)}"
        item = fresh_item(case, section, kind, [name]) | {"edge": name}
        if not self.document.edit({path: item}, f"add {kind}"):
            return ""
        self.sheet.go_to(path)
        return path

    def take_together(self, names: list[str]) -> str:
        """Make faces one face; give its name."""
        case = self.document.shown
        assert case is not None
        key = fresh_key(case, "shape.solids", "faces")
        if self.document.edit(
            {f"shape.solids.{key}": {"kind": "together", "faces": names}}, "take faces together"
        ):
            self.choose([f"{key}.face"])
        return f"{key}.face"

    def _laid(self, face: str, first: Any, second: Any, outline: str) -> None:
        """Take what was drawn, and go back to looking."""
        if first is None or second is None:
            self.document.troubled.emit("The face is seen edge on: turn the view first.")
        else:
            self.lay(face, first, second, outline)
        self.view.put_down()

    def lay(
        self,
        face: str,
        first: Any,
        second: Any,
        outline: str,
    ) -> str:
        """Lay a patch on a face between two places; give its face."""
        case = self.document.shown
        surface = self.picture.surface
        assert case is not None
        try:
            edits, key = patch_edits(
                case,
                surface,
                face,
                first,
                second,
                outline,
                self.picture.height / max(self.view.height(), 1),
            )
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return ""
        if self.document.edit(edits, "lay a patch"):
            self.sheet.go_to(f"shape.solids.{key}")
            self.choose([f"{key}.face"])
        return f"{key}.face"

    def hide(self, names: list[str]) -> None:
        """Draw faces no more; none: draw all again."""
        self.picture.set_options(
            hidden=self.picture.options.hidden | frozenset(names) if names else frozenset()
        )
        self.view.redraw()

    def veil(self, opacity: float) -> None:
        """Draw the walls before the fluid, from 0 (not at all) to 1 (full)."""
        self.picture.set_options(near_walls=opacity)
        self.view.redraw()

    def wet(self, place: Any) -> None:
        """Say that the fluid is at a place."""
        self.document.edit({"shape.wet": [[f"{1e3 * float(x):.6g} mm" for x in place]]}, "wet point")

    def make_equal(self) -> None:
        """Let as much leave as enters."""
        case = self.document.shown
        review = self.document.review
        if case is None or review is None or review.facts is None:
            self.document.troubled.emit("The case has faults, listed on the sheet: fix them first.")
            return
        try:
            edits = made_equal(case, review.facts)
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return
        if self.document.edit(edits, "make equal"):
            self.document.troubled.emit("What leaves is now equal to what enters.")
