"""The mechanism of figures, rules, findings and mends. It knows no step of the work."""
