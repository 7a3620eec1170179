"""Published formulas that no page needs: what the application computes is held against them."""
