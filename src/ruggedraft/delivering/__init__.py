"""Deliveries: what goes to whom and by which way, the page that a client opens, and what was fetched and received."""
