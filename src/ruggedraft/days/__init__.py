"""What a shoot day came to: its account, its ribbon, and the accounts that were frozen at hand-overs."""
