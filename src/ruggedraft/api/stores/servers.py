"""Stores on servers: what introduces one, and what opens it. Nothing of that is ever shown again."""

from pydantic import BaseModel, SecretStr

from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret, fingerprint_of


class HostKeyOut(BaseModel):
    """host_key: as it is given back. fingerprint: as `ssh-keygen -l` prints it, to be compared"""

    host_key: str
    fingerprint: str

    @classmethod
    def of(cls, host_key: str) -> "HostKeyOut":
        return cls(host_key=host_key, fingerprint=fingerprint_of(host_key))


class _Secret(BaseModel):
    """One of both. key: private, in OpenSSH's or PEM form, without a passphrase"""

    key: SecretStr = SecretStr("")
    password: SecretStr = SecretStr("")

    def secret(self) -> SftpSecret:
        return SftpSecret(self.key.get_secret_value(), self.password.get_secret_value())


class ServerIn(_Secret):
    """host_key: that the server presented, and somebody compared. device: what the server is called as a device

    reason: how they know what it is and where it stands. attests: it computes checksums itself, instead of reading back
    """

    name: str
    host: str
    port: int = 22
    user: str
    folder: str
    host_key: str
    device: str
    medium: str
    place: str
    reason: str
    attests: bool = False

    def address(self) -> SftpAddress:
        return SftpAddress(self.host, self.port, self.user, self.folder, self.host_key)


class CredentialsIn(_Secret):
    """host_key: another that the server has now; empty where that stays"""

    host_key: str = ""
    reason: str
