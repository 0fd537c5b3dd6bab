"""Trelvo: measuring, arithmetic, records and judgement for people who tune computer hardware."""
