"""What was really done: entries as corrected, what they raise at once, what a shop learns of them, bond coupons."""
