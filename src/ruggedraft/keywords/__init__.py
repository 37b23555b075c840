"""Keywords, captions and rights of files: found by, and written beside the copies; the originals stay as they are."""
