"""What benches and Trelvo say to each other."""
