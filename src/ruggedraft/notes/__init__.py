"""What people write down about a roll, a clip, a card, a store or a day."""
