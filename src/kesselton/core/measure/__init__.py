"""From readings to tensions, and from settings to what gauges must read."""
