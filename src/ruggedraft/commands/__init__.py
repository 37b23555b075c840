"""The commands that need the core alone: no database, no settings."""
