"""What the operating system tells of this machine: what is mounted, and which devices lie under a folder."""
