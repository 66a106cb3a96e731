"""Records of what a repair is made of: fibres, fabrics, resins, cores, putties, prices, rules."""
