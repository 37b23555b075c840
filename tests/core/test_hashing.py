"""Every algorithm against published values, fed whole and in odd pieces."""

from unittest import TestCase

from ruggedraft.core.errors import UnknownAlgorithm
from ruggedraft.core.hashing import ALGORITHMS, algorithm_named

# RFC 1321, appendix A.5 (the MD5 test suite)
MD5 = {
    b"": "d41d8cd98f00b204e9800998ecf8427e",
    b"a": "0cc175b9c0f1b6a831c399e269772661",
    b"abc": "900150983cd24fb0d6963f7d28e17f72",
    b"message digest": "f96b697d7cb7938d525a2f31aaf161d0",
    b"abcdefghijklmnopqrstuvwxyz": "c3fcd3d76192e4007dfb496cca67e13b",
    b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789": "d174ab98d277d9f5a5611c2c9f419d9f",
    b"1234567890" * 8: "57edf4a22be3c955ac49da2e2107b67a",
}
_TWO_BLOCKS = b"abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq"
# NIST, 'Examples with Intermediate Values' for FIPS 180-4: SHA-1 and SHA-256 (values from memory)
SHA1 = {
    b"abc": "a9993e364706816aba3e25717850c26c9cd0d89d",
    _TWO_BLOCKS: "84983e441c3bd26ebaae4aa1f95129e5e54670f1",
    b"a" * 1_000_000: "34aa973cd4c4daa4f61eeb2bdbad27316534016f",
}
SHA256 = {
    b"abc": "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad",
    _TWO_BLOCKS: "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1",
    b"a" * 1_000_000: "cdc76e5c9914fb9281a1c7e284d73e67f1809a48a497200e046d39ccc7112cd0",
}


def _xxhash_input(length: int) -> bytes:
    """The sanity-check input of the xxHash reference implementation: high bytes of a multiplicative generator."""
    prime32, prime64 = 2654435761, 11400714785074694797
    state, out = prime32, bytearray()
    for _ in range(length):
        out.append(state >> 56)
        state = state * prime64 % 2**64
    return bytes(out)


# Sanity-check vectors of the xxHash reference implementation, seed 0 (values from memory)
XXH64 = {
    _xxhash_input(0): "ef46db3751d8e999",
    _xxhash_input(1): "e934a84adb052768",
    _xxhash_input(4): "9136a0dca57457ee",
    _xxhash_input(14): "8282dcc4994e35c8",
    _xxhash_input(222): "b641ae8cb691c174",
}
XXH128 = {
    _xxhash_input(0): "99aa06d3014798d86001c324468d497f",
    _xxhash_input(1): "a6cd5e9392000f6ac44bdff4074eecdb",
}


def _blake3_input(length: int) -> bytes:
    """BLAKE3 test vectors: bytes that count from 0 to 250 and begin again."""
    return bytes(n % 251 for n in range(length))


# The BLAKE3 project's published test vectors, first 32 bytes of 'hash' (values from memory)
BLAKE3 = {
    _blake3_input(0): "af1349b9f5f9a1a6a0404dea36dcc9499bcb25c9adc112b7cc9a93cae41f3262",
    _blake3_input(1): "2d3adedff11b61f14c886e35afa036736dcd87a74d27b5c1510225d0f592e213",
    _blake3_input(1024): "42214739f095a406f3fc83deb889744ac00df831c10daa55189b5d121c855af7",
    _blake3_input(1025): "d00278ae47eb27b34faecf67b4fe263f82d5412916c1ffd97c8cb7fb814b8444",
}
VECTORS = {"md5": MD5, "sha1": SHA1, "sha256": SHA256, "xxh64": XXH64, "xxh128": XXH128, "blake3": BLAKE3}


class PublishedVectors(TestCase):
    def test_every_algorithm_has_vectors(self):
        self.assertEqual(set(VECTORS), set(ALGORITHMS))

    def test_vectors_whole_and_in_odd_pieces(self):
        for name, vectors in VECTORS.items():
            for message, expected in vectors.items():
                for piece in (
                    len(message) or 1,
                    1 if len(message) < 2000 else 977,
                    7 if len(message) < 2000 else 65537,
                ):
                    with self.subTest(name, length=len(message), piece=piece):
                        hasher = algorithm_named(name).start()
                        for at in range(0, len(message), piece):
                            hasher.update(memoryview(message)[at : at + piece])
                        self.assertEqual(hasher.hexdigest(), expected)
                        self.assertEqual(len(expected), ALGORITHMS[name].digits)

    def test_unknown_algorithm_stops_and_names_the_known(self):
        with self.assertRaisesRegex(UnknownAlgorithm, "crc32.*xxh128"):
            algorithm_named("crc32")
