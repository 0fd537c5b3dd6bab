"""How many standard deviations an interval reaches to either side."""

# 95 % of a normal distribution lie within this many.
Z = 1.959964
