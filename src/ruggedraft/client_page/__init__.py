"""The page that a client opens by a link: what was put together for them, and nothing else."""
