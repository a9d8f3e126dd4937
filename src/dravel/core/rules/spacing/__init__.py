"""The rules of the Spacing stop. Importing this package registers them."""

from dravel.core.rules.spacing import focus, joints, lengths, off_axis

__all__ = ["focus", "joints", "lengths", "off_axis"]
