"""Stores on servers: what introduces one, and what opens it. Nothing of that is ever shown again."""

from pydantic import BaseModel, SecretStr

from ruggedraft.core.stores import StoreKind
from ruggedraft.core.stores.objects import ObjectsAddress, ObjectsSecret
from ruggedraft.core.stores.sftp import SftpAddress, SftpSecret, fingerprint_of
from ruggedraft.core.stores.webdav import WebdavAddress, WebdavSecret
from ruggedraft.stores.addresses import Secret


class HostKeyIn(BaseModel):
    host: str
    port: int = 22


class HostKeyOut(BaseModel):
    """host_key: as it is given back. fingerprint: as `ssh-keygen -l` prints it, to be compared"""

    host_key: str
    fingerprint: str

    @classmethod
    def of(cls, host_key: str) -> "HostKeyOut":
        return cls(host_key=host_key, fingerprint=fingerprint_of(host_key))


class _SshKey(BaseModel):
    """key: private, in OpenSSH's or PEM form, without a passphrase; or a password"""

    key: SecretStr = SecretStr("")
    password: SecretStr = SecretStr("")

    def ssh_secret(self) -> SftpSecret:
        return SftpSecret(self.key.get_secret_value(), self.password.get_secret_value())


class _BucketKeys(BaseModel):
    access_key: SecretStr = SecretStr("")
    secret_key: SecretStr = SecretStr("")

    def bucket_secret(self) -> ObjectsSecret:
        return ObjectsSecret(self.access_key.get_secret_value(), self.secret_key.get_secret_value())


class _Introduced(BaseModel):
    """device: what the server is called as a device. reason: how they know what it is and where it stands

    attests: it computes checksums itself, instead of reading back
    """

    name: str
    device: str
    medium: str
    place: str
    reason: str
    attests: bool = False


class ServerIn(_Introduced, _SshKey):
    """folder: its whole path. host_key: that the server presented, and somebody compared"""

    host: str
    port: int = 22
    user: str
    folder: str
    host_key: str

    def address(self) -> SftpAddress:
        return SftpAddress(self.host, self.port, self.user, self.folder, self.host_key)


class BucketIn(_Introduced, _BucketKeys):
    """endpoint: such as https://storage.example. prefix: beneath which the store lies in the bucket, or empty"""

    endpoint: str
    region: str = ""
    bucket: str
    prefix: str = ""

    def address(self) -> ObjectsAddress:
        return ObjectsAddress(self.endpoint, self.region, self.bucket, self.prefix)


class WebdavIn(_Introduced):
    """url: of the folder, such as https://files.example/dav/rolls"""

    url: str
    user: str
    password: SecretStr

    def address(self) -> WebdavAddress:
        return WebdavAddress(self.url)

    def secret(self) -> WebdavSecret:
        return WebdavSecret(self.user, self.password.get_secret_value())


class CredentialsIn(_SshKey, _BucketKeys):
    """host_key: another that the server has now; empty where that stays. user: of a WebDAV server"""

    host_key: str = ""
    user: str = ""
    reason: str

    def secret(self, kind: StoreKind) -> Secret:
        if kind is StoreKind.WEBDAV:
            return WebdavSecret(self.user, self.password.get_secret_value())
        return self.bucket_secret() if kind is StoreKind.OBJECTS else self.ssh_secret()
