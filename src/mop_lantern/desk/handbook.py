"""The manual in a window of its own, beside the desk."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QTextOption
from PyQt6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QSplitter,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.desk.theme import Tokens, font
from mop_lantern.manual import anchors, answers, manual_html

ON_TOP = (
    "begin",
    "walkthroughs",
    "trust",
    "notes",
    "equations",
    "files",
    "tours",
    "values",
    "command-line",
    "menus",
    "layers",
)


class Handbook(QDialog):
    """Contents on the left, the text on the right, a field to find words."""

    def __init__(self, tokens: Tokens, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Manual – Mop Lantern")
        self.setModal(False)
        self.resize(980, 680)
        self.words = QLineEdit()
        self.words.setPlaceholderText("Find in the manual (Enter: next)")
        self.words.setAccessibleName("Find in the manual")
        self.words.returnPressed.connect(self.find_next)
        self.contents = QListWidget()
        self.contents.setAccessibleName("Contents")
        self.contents.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Manual")
        self.text.setOpenExternalLinks(False)
        self.text.setFont(font(10.5))
        self.text.setWordWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
        # lines that wrap may still round up a pixel
        self.text.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.set_tokens(tokens)
        for name, words in anchors():
            on_top = name[0].isupper() or name in ON_TOP
            item = QListWidgetItem(("" if on_top else "    ") + words)
            item.setToolTip(words)
            item.setData(Qt.ItemDataRole.UserRole, name)
            self.contents.addItem(item)
        self.contents.itemActivated.connect(lambda item: self.go_to(item.data(Qt.ItemDataRole.UserRole)))
        self.contents.itemClicked.connect(lambda item: self.go_to(item.data(Qt.ItemDataRole.UserRole)))
        across = QSplitter(Qt.Orientation.Horizontal)
        across.addWidget(self.contents)
        across.addWidget(self.text)
        across.setSizes([300, 680])
        layout = QVBoxLayout(self)
        layout.addWidget(self.words)
        layout.addWidget(across, 1)
        self.anchor = ""
        self._asked = ""

    def set_tokens(self, tokens: Tokens) -> None:
        """Set the text in the colours of the theme."""
        style = (
            f"h1 {{ color: {tokens.amber}; font-size: 17pt; }} h2, h3 {{ color: {tokens.ink}; }} i {{ "
            f"color: {tokens.soft}; }} td, th {{ padding: 3px 10px 3px 0; }} code {{ color: {tokens.teal}; "
            "}"
        )
        document = self.text.document()
        assert document is not None
        document.setDefaultStyleSheet(style)
        self.text.setHtml(manual_html())

    def go_to(self, anchor: str) -> None:
        """Show the place of an anchor and mark it in the contents."""
        self.anchor = anchor
        self.text.scrollToAnchor(anchor)
        for row in range(self.contents.count()):
            item = self.contents.item(row)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == anchor:
                self.contents.setCurrentRow(row)

    def find_next(self) -> None:
        """Go to the next place with the words looked for, from the top after the last."""
        words = self.words.text()
        places = answers(words)
        if places and words != self._asked:
            self._asked = words  # the next Enter goes on through the text
            self.go_to(places[0][0])
            return
        if words and not self.text.find(words):
            self.text.moveCursor(self.text.textCursor().MoveOperation.Start)
            self.text.find(words)
