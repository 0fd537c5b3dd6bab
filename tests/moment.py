from datetime import UTC, datetime

NOW = datetime(2024, 5, 1, 18, 0, tzinfo=UTC)
