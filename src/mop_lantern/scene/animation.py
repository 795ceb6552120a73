"""Animations of the kept states of a run."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError, because
from mop_lantern.judge import FieldResult
from mop_lantern.scene.picture import Picture

SIZE = (1280, 800)


def write_animation(
    path: Path,
    picture: Picture,
    states: Sequence[Callable[[], FieldResult]],
    pace: float = 8.0,
    tell: Callable[[float], None] | None = None,
) -> None:
    """Write an MP4 or GIF with one frame a state.

    Parameters
    ----------
    picture : set up with shape and options; its scale is fixed to the range of all states. states : functions
    giving them.
    pace : frames a second. tell : called with the share done.

    Raises
    ------
    FileError : nothing to show, or the file cannot be written.
    """
    if not states:
        raise FileError(
            f"{path}: this solution has kept no states to animate. Follow the flow in time, and keep states."
        )
    import imageio_ffmpeg

    low, high = _range(picture, states)
    picture.set_options(low=low, high=high)
    how: dict[str, Any] = (
        {"codec": "gif", "pix_fmt_out": "rgb8"}
        if path.suffix.lower() == ".gif"
        else {"codec": "libx264", "quality": 7}
    )
    writer = imageio_ffmpeg.write_frames(
        str(path),
        SIZE,
        fps=pace,
        macro_block_size=2,
        ffmpeg_log_level="error",
        **how,
    )
    try:
        writer.send(None)
        for number, state in enumerate(states):
            picture.set_answer(state())
            writer.send(np.ascontiguousarray(picture.image(SIZE)).tobytes())
            if tell is not None:
                tell((number + 1) / len(states))
    except OSError as problem:
        raise FileError(
            f"{path}: the animation cannot be written{because(problem)}. Choose another folder."
        ) from None
    finally:
        writer.close()
    if not path.exists() or not path.stat().st_size:
        raise FileError(f"{path}: the animation cannot be written. Choose another folder.")


def _range(picture: Picture, states: Sequence[Callable[[], FieldResult]]) -> tuple[float, float]:
    lows = []
    highs = []
    for state in states[:: max(1, len(states) // 20)]:
        answer = state()
        picture.answer = answer
        values = answer.cells(picture.quantity)[answer.covers(picture.quantity)]
        lows.append(0.0 if picture.quantity == "speed" else float(values.min()))
        highs.append(float(values.max()))
    return min(lows), max(highs)
