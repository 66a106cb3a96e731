"""The bond along the scarf: shear lag, figures, and the protocol of every interface."""
