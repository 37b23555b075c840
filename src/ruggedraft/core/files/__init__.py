"""This machine's own file systems: confined paths, and reading past its caches. Only local code imports it."""
