"""The tube turned in its rings, so that a focuser at its side hangs where it does least."""

from collections.abc import Iterator

from dravel.core.engine.context import Context
from dravel.core.engine.rule import Attempt
from dravel.core.model.edit import Edit
from dravel.core.model.words import text
from dravel.core.train.stiffness import SIDE_FOCUS

TOWARDS_THE_MOUNT_DEG = 180.0


def turned(context: Context) -> Iterator[Attempt]:
    """Turn a tube with a focuser at its side so that it hangs towards the mount: a shorter arm, and less across it."""
    telescope = context.light.telescope
    if (
        telescope is not None
        and telescope.design in SIDE_FOCUS
        and context.rig.tube_turned_deg != TOWARDS_THE_MOUNT_DEG
    ):
        edit = Edit("replace", ("tube_turned_deg",), TOWARDS_THE_MOUNT_DEG)
        yield Attempt(text("Rotate the tube in its rings: focuser towards the mount"), (edit,))
