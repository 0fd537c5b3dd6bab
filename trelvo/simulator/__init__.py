"""The simulator bench: invented silicon, seeded, so that Trelvo can be tried without hardware. Knows nothing of core.

silicon: clock, voltage, power, leakage, the edge and how it fails   heat: die, cooler, fan
limits: power limits that act on the clock, the supply               instruments: what is read, and how it lies
loads: what a workload asks and what it yields                       rigs: three rigs and what can be set on them
bench: all of it together, stepped through time
"""
