"""The look: paper and ink with one lamp-amber accent, and its night twin. All colours are tokens of this
file.
"""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PyQt6.QtWidgets import QApplication

from mop_lantern.scene.maps import ASSETS


@dataclass(frozen=True)
class Tokens:
    """Colours of a theme; text on its ground has a contrast of at least 4.5 to 1."""

    paper: str
    card: str
    ink: str
    soft: str
    line: str
    value: str
    amber: str
    on_amber: str
    teal: str
    caution: str
    blocked: str
    tag: str


PAPER = Tokens(
    "#fbf8f1",
    "#fffdf8",
    "#29292f",
    "#65625b",
    "#d9d3c5",
    "#f3ead6",
    "#8f5300",
    "#ffffff",
    "#00666a",
    "#8a5200",
    "#a3231d",
    "#e8e4da",
)
NIGHT = Tokens(
    "#171a20",
    "#1e222a",
    "#e8e5dd",
    "#a9a69e",
    "#3a3f49",
    "#3a3324",
    "#ffb347",
    "#1c1608",
    "#59cfc8",
    "#ffc163",
    "#ff8a80",
    "#2d323c",
)
_FAMILY = "Lantern Sans"


def load_fonts() -> None:
    """Make the program's own typeface known."""
    for style in ("Regular", "Semibold"):
        QFontDatabase.addApplicationFont(str(ASSETS / f"LanternSans-{style}.ttf"))


def font(size: float = 10.5, bold: bool = False) -> QFont:
    """Give the typeface at a size in points, figures of equal width."""
    made = QFont([_FAMILY, "DejaVu Sans"])
    made.setPointSizeF(size)
    made.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return made


def apply_theme(app: QApplication, tokens: Tokens) -> None:
    """Set style, palette and style sheet, unless they are set already: every widget would be polished anew."""
    sheet = _sheet(tokens)
    if app.styleSheet() == sheet:
        return
    app.setStyle("Fusion")
    app.setFont(font())
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, tokens.paper),
        (roles.Base, tokens.card),
        (roles.AlternateBase, tokens.paper),
        (roles.Button, tokens.card),
        (roles.Text, tokens.ink),
        (roles.WindowText, tokens.ink),
        (roles.ButtonText, tokens.ink),
        (roles.Highlight, tokens.amber),
        (roles.HighlightedText, tokens.on_amber),
        (roles.ToolTipBase, tokens.card),
        (roles.ToolTipText, tokens.ink),
        (roles.PlaceholderText, tokens.soft),
        (roles.Mid, tokens.line),
        (roles.Link, tokens.teal),
    ):
        palette.setColor(role, QColor(colour))
    for role in (roles.Text, roles.WindowText, roles.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(tokens.soft))
    app.setPalette(palette)
    app.setStyleSheet(sheet)


def _sheet(t: Tokens) -> str:
    return f"""
    QToolTip {{ color: {t.ink}; background: {t.card}; border: 1px solid {t.line}; padding: 3px; }}
    QLineEdit[value="true"] {{ background: {t.value}; color: {t.ink}; border: none; border-bottom: 1px solid {t.amber}; padding: 0 3px; }}
    QLineEdit[value="true"]:focus {{ border-bottom: 2px solid {t.amber}; }}
    QLineEdit[wrong="true"] {{ border-bottom: 2px solid {t.blocked}; }}
    QPushButton[choice="true"] {{ background: transparent; color: {t.ink}; border: none; border-bottom: 1px dotted {t.ink}; padding: 0; }}
    QPushButton[choice="true"]:focus, QPushButton[choice="true"]:hover {{ border-bottom: 2px dotted {t.amber}; }}
    QPushButton[choice="true"]::menu-indicator {{ width: 0; image: none; }}
    QLineEdit[tag="true"] {{ background: {t.tag}; color: {t.ink}; border: 1px solid transparent; border-radius: 8px; padding: 0 7px; }}
    QLineEdit[tag="true"]:hover, QLineEdit[tag="true"]:focus {{ border: 1px solid {t.amber}; }}
    QPushButton[remedy="true"] {{ background: {t.card}; color: {t.amber}; border: 1px solid {t.amber}; border-radius: 4px; padding: 1px 8px; }}
    QPushButton[remedy="true"]:hover {{ background: {t.value}; }}
    QPushButton[quiet="true"] {{ background: transparent; color: {t.soft}; border: none; padding: 0 3px; }}
    QPushButton[quiet="true"]:hover, QPushButton[quiet="true"]:focus {{ color: {t.amber}; }}
    QPushButton[quiet="true"]::menu-indicator {{ width: 0; image: none; }}
    QPushButton[main="true"] {{ background: {t.amber}; color: {t.on_amber}; border: none; border-radius: 5px; padding: 5px 16px; }}
    QPushButton[main="true"]:disabled {{ background: {t.line}; color: {t.soft}; }}
    QPushButton[chip="true"] {{ background: transparent; color: {t.ink}; border: 1px solid {t.line}; border-radius: 11px; padding: 2px 11px; }}
    QPushButton[chip="true"]:checked {{ background: {t.value}; border: 1px solid {t.amber}; font-weight: 600; }}
    QPushButton[chip="true"]:focus {{ border: 1px solid {t.amber}; }}
    QPushButton[plain="true"] {{ background: transparent; color: {t.ink}; border: 1px solid {t.line}; border-radius: 5px; padding: 4px 11px; }}
    QPushButton[plain="true"]:hover, QPushButton[plain="true"]:focus {{ border: 1px solid {t.amber}; }}
    QPushButton[plain="true"]:checked {{ background: {t.value}; border: 1px solid {t.amber}; }}
    QPushButton[plain="true"]:disabled {{ color: {t.soft}; }}
    QPushButton[plain="true"]::menu-indicator {{ width: 0; image: none; }}
    QPushButton[layer="true"] {{ background: transparent; color: {t.soft}; border: none; border-bottom: 2px solid transparent; padding: 3px 3px; }}
    QPushButton[layer="true"]:checked {{ color: {t.ink}; border-bottom: 2px solid {t.amber}; }}
    QPushButton[layer="true"]:focus, QPushButton[layer="true"]:hover {{ color: {t.amber}; }}
    QPushButton[card="true"] {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.line}; border-radius: 8px; padding: 14px; text-align: left; }}
    QPushButton[card="true"]:hover, QPushButton[card="true"]:focus {{ border: 1px solid {t.amber}; background: {t.value}; }}
    QSplitter::handle {{ background: {t.line}; }}
    QSplitter::handle:horizontal {{ width: 1px; }} QSplitter::handle:vertical {{ height: 1px; }}
    QScrollArea {{ border: none; background: {t.paper}; }}
    QLabel[soft="true"] {{ color: {t.soft}; }}
    QMenu {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.line}; }}
    QMenu::item {{ padding: 4px 18px; }} QMenu::item:selected {{ background: {t.value}; color: {t.ink}; }}
    QStatusBar QLabel {{ padding: 0 8px; }} QStatusBar {{ background: {t.paper}; color: {t.soft}; }} QStatusBar::item {{ border: none; }}
    """
