"""Digests that name things by what they are."""

from __future__ import annotations


def digest_of(data: bytes, length: int) -> str:
    """The first ``length`` hexadecimal digits of the SHA-256 digest of some bytes."""
    from hashlib import sha256  # loads a cryptographic library, which a start without files does without

    return sha256(data).hexdigest()[:length]
