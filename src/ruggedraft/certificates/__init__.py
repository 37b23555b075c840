"""Certificates: clearances as anybody can check them, without us and in ten years."""
