"""How somebody looks at the Tally: views that they keep, and what changed since they last looked."""
