from django.db import connection


def let_go() -> None:
    """Give this thread's connection to the ledger back, once nothing more is to be done with it.

    Work outside of ordinary requests calls this at its end: what comes next, perhaps hours later, begins with a
    connection that is alive. Inside a transaction nothing happens: it is somebody else's to end.
    """
    if not connection.in_atomic_block:
        connection.close()
