"""By the team's own certificate: one authority made here, trusted by its print."""

import hashlib
import http.cookiejar
import re
import socket
import ssl
import urllib.error
import urllib.request

import pytest
import trustme
from cryptography import x509

from tests.conftest import Server


@pytest.fixture(scope="module")
def secure(tmp_path_factory):
    one = Server(tmp_path_factory.mktemp("var"), https=True)
    yield one
    one.kill()


def test_who_trusts_the_authority_comes_in_and_who_does_not_is_warned(secure):
    jar = http.cookiejar.CookieJar()
    opener = urllib.request.build_opener(
        urllib.request.HTTPSHandler(context=secure.trusted), urllib.request.HTTPCookieProcessor(jar)
    )
    assert opener.open(f"{secure.url}/api/session").status == 200
    assert jar and all(cookie.secure for cookie in jar)
    with pytest.raises(urllib.error.URLError, match="CERTIFICATE_VERIFY_FAILED"):
        urllib.request.urlopen(f"{secure.url}/api/session")


def test_a_phone_is_handed_the_certificate_and_the_print_to_compare(secure):
    told = f"http://127.0.0.1:{secure.port + 1}"
    page = urllib.request.urlopen(told).read().decode()
    handed = urllib.request.urlopen(f"{told}/authority.crt").read()
    assert handed == secure.authority.read_bytes()
    der = ssl.PEM_cert_to_DER_cert(handed.decode())
    shown = re.search(r"<code>([0-9A-F ]+)</code>", page).group(1).replace(" ", "")
    assert shown == hashlib.sha256(der).hexdigest().upper()
    for path in ("/api/session", "/plans", "/server.pem", "/../tls/authority.key"):
        assert b"PRIVATE" not in urllib.request.urlopen(told + path).read()


def test_whoever_connects_and_says_nothing_is_let_go(secure):
    with socket.create_connection(("127.0.0.1", secure.port), timeout=20) as silent:
        assert silent.recv(1) == b""


def test_the_authority_stays_when_the_server_starts_again(secure):
    before = secure.authority.read_bytes()
    secure.kill()
    secure.start()
    assert secure.authority.read_bytes() == before
    assert (secure.authority.parent / "authority.key").stat().st_mode & 0o077 == 0
    assert (secure.authority.parent / "server.pem").stat().st_mode & 0o077 == 0


def test_the_authority_vouches_for_the_teams_own_network_alone_and_the_certificate_lasts_a_year(secure):
    """Whoever has its key can make no certificate for a site elsewhere that the team's devices believe: hands are shaken over each."""
    folder = secure.authority.parent
    made = x509.load_pem_x509_certificates((folder / "server.pem").read_bytes())[0]
    assert (made.not_valid_after_utc - made.not_valid_before_utc).days <= 398
    authority = trustme.CA.from_pem(secure.authority.read_bytes(), (folder / "authority.key").read_bytes())
    for name, believed in (
        ("192.168.7.7", True),
        ("10.1.2.3", True),
        ("rim.local", True),
        ("elsewhere.example", False),
        ("8.8.8.8", False),
    ):
        assert shakes_hands(secure, authority, name) == believed, name


def shakes_hands(secure, authority, name: str) -> bool:
    """Whether somebody who trusts the authority believes a certificate by it for a name."""
    there, here = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), ssl.create_default_context(cafile=str(secure.authority))
    authority.issue_cert(name).configure_cert(there)
    to, back = ssl.MemoryBIO(), ssl.MemoryBIO()
    both = [here.wrap_bio(back, to, server_hostname=name), there.wrap_bio(to, back, server_side=True)]
    for _ in range(6):
        for one in both:
            try:
                one.do_handshake()
            except ssl.SSLWantReadError:
                continue
            except ssl.SSLError:
                return False
    return True
