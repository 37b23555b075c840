"""What changes who works here, and what they may do. Nobody's history is ever taken away with them."""
