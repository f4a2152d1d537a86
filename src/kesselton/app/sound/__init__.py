"""Sound devices: playing and recording."""
