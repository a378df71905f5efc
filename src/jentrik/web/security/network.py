"""Where another device of the shop's network reaches this program."""

import socket
from ipaddress import ip_address

from fastapi import Request

from jentrik.store.policy import stored_policy

_ANY_OUTSIDE = ("192.0.2.1", 9)  # an address for examples (RFC 5737); nothing is sent to it


def network_address(request: Request, path: str) -> str | None:
    """Return the address under which a path opens on another device; None where it does not.

    The shop's own address comes first; else, without a passphrase, the program answers on this
    machine alone.
    """
    url, site = request.url, stored_policy().head.site
    if site:
        return f"{site}{path}"
    if request.app.state.guarding.passphrase is None:
        return None
    host = url.hostname or ""
    if _is_this_machine(host):
        host = _own_address() or ""
    if not host:
        return None
    port = f":{url.port}" if url.port else ""
    return f"{url.scheme}://{host}{port}{path}"


def code_for(request: Request, path: str, tag: str) -> str:
    """Return what a code on paper holds: the address that opens it, else its tag alone."""
    return network_address(request, path) or tag


def _is_this_machine(host: str) -> bool:
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


def _own_address() -> str | None:
    """Return this machine's address on its network, as it would use it to speak to another."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as there:
        try:
            there.connect(_ANY_OUTSIDE)
        except OSError:
            return None
        address = str(there.getsockname()[0])
    return None if ip_address(address).is_loopback else address
