"""What is put on paper."""
