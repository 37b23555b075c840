"""Everything between a bare Debian machine and running software. Standard library only: it runs first."""
