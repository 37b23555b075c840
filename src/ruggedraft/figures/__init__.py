"""`./raft bench`: how fast it is, against what a careful person would type, in one run and in turns."""
