"""The image train's geometry: where every part lies, what mates, what light passes, which rings fill a gap."""
