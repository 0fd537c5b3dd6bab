"""The agent: runs on a real machine under test, reads its sensors and sends them to Trelvo. It changes nothing there.

Stands alone: nothing of the rest of Trelvo is imported, and besides psutil nothing outside the standard library.

sensors: what psutil reads here         tail: a CSV file that another program is writing
spool: what waits on disk to be sent    line: the server, as seen from here      work: one run from opening to its end
"""
