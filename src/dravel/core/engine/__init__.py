"""The mechanism of figures, rules, findings and fixes. It knows no step of the work."""
