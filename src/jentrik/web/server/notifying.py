"""Notifies other programs: signed, bounded, tried again, only where a person said so.

A notice is the JSON of `GET /api/changes`, posted.  Its header `Jentrik-Signature` is
`t=<seconds>,v1=<hex>`, the HMAC-SHA256 (RFC 2104) of `<seconds>.<body>` under the address's key.
An address is looked up once and reached under what was found, so that it cannot turn into another
between the look and the call; no redirect is followed and no answer is read.
"""

import hashlib
import hmac
import http.client
import json
import logging
import socket
import ssl
import threading
import time
from datetime import datetime
from ipaddress import IPv4Address, IPv6Address, ip_address
from typing import Literal
from urllib.parse import urlsplit

import peewee

from jentrik.core.errors import OutOfRange, Refusal
from jentrik.store.happenings import happened_since
from jentrik.store.webhooks import Webhook, due_webhooks, note_failed, note_notified, secret_of
from jentrik.web.shop import Shop

Hooks = Literal["off", "others", "own"]  # none; other machines; this very machine, too
SIGNATURE, MOST_AT_ONCE, TIMEOUT_S, LOOK_EVERY_S = "Jentrik-Signature", 50, 5.0, 2.0
_log = logging.getLogger("jentrik")


def signature(secret: str, body: bytes, at_s: int) -> str:
    """Return how a notice is signed."""
    mark = hmac.new(secret.encode(), f"{at_s}.".encode() + body, hashlib.sha256)
    return f"t={at_s},v1={mark.hexdigest()}"


def _may_reach(address: IPv4Address | IPv6Address, hooks: Hooks) -> bool:
    """Whether an address may be notified: never a link's, this machine's own only where allowed."""
    if isinstance(address, IPv6Address) and address.ipv4_mapped:
        address = address.ipv4_mapped
    if address.is_link_local or address.is_multicast or address.is_unspecified:
        return False
    return hooks == "own" or not (address.is_loopback or str(address) in _own())


def _own() -> set[str]:
    try:
        return {str(one[4][0]) for one in socket.getaddrinfo(socket.gethostname(), None)}
    except OSError:
        return set()


def post(address: str, body: bytes, signed: str, hooks: Hooks) -> None:
    """Post a body to an address; refuses one that must not be reached, or that does not take it."""
    parts = urlsplit(address)
    host, secure = parts.hostname or "", parts.scheme == "https"
    port = parts.port or (443 if secure else 80)
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0][4][0]
        if not _may_reach(ip_address(str(found).partition("%")[0]), hooks):
            raise OutOfRange("That address is this machine's own, or one that no program has.")
        line: socket.socket = socket.create_connection((str(found), port), timeout=TIMEOUT_S)
        with line:
            if secure:
                line = ssl.create_default_context().wrap_socket(line, server_hostname=host)
            there = http.client.HTTPConnection(host, port, timeout=TIMEOUT_S)
            there.sock = line
            path = f"{parts.path or '/'}{'?' + parts.query if parts.query else ''}"
            headers = {"Content-Type": "application/json", SIGNATURE: signed}
            there.request("POST", path, body, headers)
            status = there.getresponse().status
    except (OSError, http.client.HTTPException, ValueError) as error:
        raise OutOfRange(str(error) or type(error).__name__) from None
    if not 200 <= status < 300:
        raise OutOfRange(f"It answered {status}.")


class Notifier:
    """A thread that sends what is due."""

    def __init__(self, shop: Shop, hooks: Hooks) -> None:
        self._shop, self._hooks = shop, hooks
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="notifier", daemon=True)

    def start(self) -> None:
        """Begin, where programs are notified at all."""
        if self._hooks != "off":
            self._thread.start()

    def stop(self) -> None:
        """End, after what is being sent."""
        self._stop.set()
        if self._thread.is_alive():
            self._thread.join(timeout=TIMEOUT_S)

    def _run(self) -> None:
        while not self._stop.wait(LOOK_EVERY_S):
            try:
                self._shop.ready()
                self.notify_due(self._shop.now())
            except (Refusal, OSError, peewee.PeeweeException) as error:
                _log.warning("Programs were not notified: %s", error)

    def notify_due(self, now: datetime) -> None:
        """Send each address what it has not had yet, so much at once."""
        for hook in due_webhooks(now):
            self._notify(hook, now)

    def _notify(self, hook: Webhook, now: datetime) -> None:
        changes = happened_since(hook.sent_to, most=MOST_AT_ONCE)
        last = changes[-1].n
        body = json.dumps({"changes": [one.as_document() for one in changes], "next": last})
        raw = body.encode()
        database = self._shop.database
        try:
            signed = signature(secret_of(hook.id), raw, int(time.time()))
            post(hook.address, raw, signed, self._hooks)
        except Refusal as refusal:
            note_failed(database, hook, refusal.message, now)
        else:
            note_notified(database, hook, last)
