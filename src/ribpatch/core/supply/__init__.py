"""What to buy, mix and carry: quantities, cups, weight, cost."""
