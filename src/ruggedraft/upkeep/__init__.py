"""What is done for copies while nobody watches: standing orders, reading again, mending."""
