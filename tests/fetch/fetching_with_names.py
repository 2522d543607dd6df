"""The process that fetches, with names looked up at a server of the tests':
python -m tests.fetch.fetching_with_names FOLDER PORT."""

import sys
from pathlib import Path

from scrapy.utils.reactor import install_reactor

from innerhop.fetch import __main__ as fetching

if __name__ == "__main__":
    install_reactor("twisted.internet.asyncioreactor.AsyncioSelectorReactor")
    from twisted.internet import reactor
    from twisted.names.client import Resolver

    reactor.installResolver(Resolver(servers=[("127.0.0.1", int(sys.argv[2]))]))
    fetching.main(Path(sys.argv[1]))
