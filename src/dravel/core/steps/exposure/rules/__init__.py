"""Rules of the Exposure step: the body and its filter, the sub, the night."""
