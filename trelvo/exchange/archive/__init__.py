"""The logbook, or one campaign, as a data package: CSV tables and Parquet series that any tool can read."""
