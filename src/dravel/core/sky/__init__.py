"""The sky: projection and framing."""
