"""A folder of a WebDAV server (RFC 4918), over HTTP (RFC 9110, RFC 9112).

What is on its way lies under a name of its own in the run's folder, and is moved to its name once it is whole, with
`Overwrite: F`, so that the server refuses to put it over anything. The protocol keeps no times that a client gives, and
knows no checksums: what was written is read back.
"""

from .line import WebdavAddress, WebdavLine, WebdavSecret
from .store import WebdavStore

__all__ = ["WebdavAddress", "WebdavLine", "WebdavSecret", "WebdavStore"]
