"""The limits of Power: what its rules judge by and its pages tell."""

from dravel.core.engine.limit import Limit

OWN = "default threshold"
ENERGY = Limit(1.0, 0.8, "× the energy needed", f"definition; 20% short, {OWN}", least=True)
PEAK = Limit(0.8, 1.0, "%", f"manufacturer; 20% reserve, {OWN}")
DROP = Limit(0.05, 0.10, "%")
