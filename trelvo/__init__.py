"""Trelvo: measuring, arithmetic, records and judgement for people who tune computer hardware."""

__version__ = "0.1.0"
