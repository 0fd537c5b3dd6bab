"""One module a screen's question: rows in, core called, answer out."""
