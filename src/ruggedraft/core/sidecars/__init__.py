"""What people say about a roll, written beside the copies and never into them."""

from .xmp import Tags, format_xmp, sidecar_path

__all__ = ["Tags", "format_xmp", "sidecar_path"]
