"""A folder of an SFTP server.

Sources: draft-ietf-secsh-filexfer-02 (version 3, which OpenSSH speaks), OpenSSH's PROTOCOL for posix-rename, fsync and
statvfs, RFC 4251 to 4254 for what carries it.
"""

from .line import SftpAddress, SftpLine, SftpSecret, fingerprint_of, host_key_of
from .store import SftpStore

__all__ = ["SftpAddress", "SftpLine", "SftpSecret", "SftpStore", "fingerprint_of", "host_key_of"]
