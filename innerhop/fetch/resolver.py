"""Names looked up, and what they stand for judged: the connection goes to what was judged, and to
nothing that a later look would say."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from twisted.internet.address import IPv4Address, IPv6Address
from twisted.internet.interfaces import IHostnameResolver, IHostResolution, IResolutionReceiver
from zope.interface import implementer

from innerhop.core.addresses.public import is_public

# By name, what it stands for that isn't gone to. A process looks names up for one fetch only.
refused: dict[str, str] = {}


@implementer(IHostResolution)
class _Answered:
    """A name that needs no looking up."""

    def __init__(self, name: str) -> None:
        self.name = name

    def cancel(self) -> None:
        """There is nothing under way."""


@implementer(IResolutionReceiver)
class _Judging:
    """Hands on what a name stands for, unless any of it is inside a network: a name that stands
    for both is refused as a whole."""

    def __init__(self, receiver: Any, name: str) -> None:
        self.receiver = receiver
        self.name = name
        self.addresses: list[Any] = []

    def resolutionBegan(self, resolution: Any) -> None:  # noqa: N802  (Twisted's name)
        """Looking up has begun."""
        self.receiver.resolutionBegan(resolution)

    def addressResolved(self, address: Any) -> None:  # noqa: N802
        """The name stands for that, too."""
        self.addresses.append(address)

    def resolutionComplete(self) -> None:  # noqa: N802
        """All that it stands for is known."""
        inside = [one for one in self.addresses if not is_public(one.host)]
        if inside:
            refused[self.name] = inside[0].host
        for address in () if inside else self.addresses:
            self.receiver.addressResolved(address)
        self.receiver.resolutionComplete()


@implementer(IHostnameResolver)
class Judge:
    """Twisted's own resolver of names, whose answers are judged. let_through: hosts, with their
    ports, and the address to go to without a look."""

    def __init__(self, reactor: Any, let_through: Mapping[str, str]) -> None:
        self.reactor = reactor
        self.inner = reactor.nameResolver
        self.let_through = let_through

    @classmethod
    def from_crawler(cls, crawler: Any, reactor: Any) -> Judge:
        """Scrapy's way of making it."""
        return cls(reactor, crawler.settings.getdict("LET_THROUGH"))

    def install_on_reactor(self) -> None:
        """Have it asked for every name."""
        self.reactor.installNameResolver(self)

    def resolveHostName(  # noqa: N802  (Twisted's name)
        self,
        resolutionReceiver: Any,  # noqa: N803
        hostName: str,  # noqa: N803
        portNumber: int = 0,  # noqa: N803
        addressTypes: Sequence[type[Any]] | None = None,  # noqa: N803
        transportSemantics: str = "TCP",  # noqa: N803
    ) -> Any:
        """IHostnameResolver."""
        practice = self.let_through.get(f"{hostName}:{portNumber}")
        if practice is None:
            judging = _Judging(resolutionReceiver, hostName)
            return self.inner.resolveHostName(
                judging, hostName, portNumber, addressTypes, transportSemantics
            )
        answered = _Answered(hostName)
        resolutionReceiver.resolutionBegan(answered)
        kind = IPv6Address if ":" in practice else IPv4Address
        resolutionReceiver.addressResolved(kind("TCP", practice, portNumber))
        resolutionReceiver.resolutionComplete()
        return answered
