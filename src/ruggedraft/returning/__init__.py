"""Working files: what of a folder that somebody works in is not as it was, and bringing files back to one.

Such a folder is no store and what is in it is no copy: it is never counted, and nothing here is evidence of any copy.
"""
