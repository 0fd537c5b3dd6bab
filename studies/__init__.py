"""What is measured in full and by hand: calibration of constants, error rates, speed and scale. Run by ./run.py bench."""
