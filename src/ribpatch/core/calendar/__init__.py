"""When the work is done: air, cure clocks, working hours, steps and the first schedule of them."""
