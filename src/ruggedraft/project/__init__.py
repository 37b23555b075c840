"""Settings, addresses, entry points: the only place that knows of every part."""
