"""Load: what the rig weighs, where, and what holds it up."""
