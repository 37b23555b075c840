"""Working files: what is not as it was, and bringing files back."""
