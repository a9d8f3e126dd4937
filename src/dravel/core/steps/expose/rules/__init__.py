"""Rules of the Expose step: the body and its filter, the sub, the night."""
