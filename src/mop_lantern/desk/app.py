"""Start the application."""

from __future__ import annotations

import os
import sys
import time
import traceback
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.collecting import Collector
from mop_lantern.desk.theme import load_fonts
from mop_lantern.results.unsaved import sweep_unsaved

SETTLE = 20.0  # s a picture waits for the review


def application() -> QApplication:
    """Give the application, made on first use."""
    os.environ.setdefault("LP_NUM_THREADS", "1")
    present = QApplication.instance()
    if isinstance(present, QApplication):
        return present
    made = QApplication(["mop-lantern"])
    made.setApplicationName("mop-lantern")
    load_fonts()
    return made


def run(file: Path | None, shot: Path | None) -> int:
    """Open the window and stay until it is closed; with ``shot`` draw it once and leave."""
    app = application()
    load_fonts()
    from mop_lantern.desk.window import Desk

    window = Desk()
    sys.excepthook = lambda kind, problem, trace: keep_going(window.tell, kind, problem, trace)
    window.show()
    if file is not None:
        window.open(file)
    if shot is not None:
        settle(window)
        good = window.grab().save(str(shot))
        window.document._saved = window.document.case
        window.close()
        if not good:
            print(f"{shot}: the picture cannot be written.", file=sys.stderr)
        return 0 if good else 1
    if file is None:
        QTimer.singleShot(200, window.recover)
        sweep_unsaved()
    keep_python_awake = QTimer()  # so that Ctrl-C is heard while Qt waits
    keep_python_awake.start(300)
    keep_python_awake.timeout.connect(lambda: None)
    collector = Collector(app)
    try:
        return app.exec()
    finally:
        collector.end()


def keep_going(
    tell: Callable[[str], None],
    kind: type[BaseException],
    problem: BaseException,
    trace: TracebackType | None,
) -> None:
    """Write a fault of ours into the log and say so in words; the window lives and nothing typed is lost."""
    folder = Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state") / "mop-lantern"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with (folder / "faults.log").open("a", encoding="utf-8") as log:
            log.write(
                time.strftime("%Y-%m-%d %H:%M:%S\n")
                + "".join(traceback.format_exception(kind, problem, trace))
            )
        where = f" It is noted in {folder / 'faults.log'}."
    except OSError:
        where = ""
    tell(f"The program met a fault of its own ({kind.__name__}); the case is safe.{where}")


def settle(window: object, seconds: float = SETTLE) -> None:
    """Process events until the case is reviewed and drawn."""
    from mop_lantern.desk.window import Desk

    assert isinstance(window, Desk)
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        QApplication.processEvents()
        time.sleep(0.01)
        if window.document.case is None or window.document.review is not None:
            break
    for _ in range(20):
        QApplication.processEvents()
        time.sleep(0.01)
