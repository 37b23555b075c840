"""One shift hands over to the next: what runs, what waits, what is wrong, which cards are where."""
