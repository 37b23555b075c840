"""Reports that camera crews write: taken in as CSV, and held against what the rolls hold."""
