"""The process that fetches: python -m innerhop.fetch FOLDER. It tells what came on its output, and
ends when its input does, so that it never outlives who started it."""

from __future__ import annotations

import os
import sys
import threading
import time
from pathlib import Path
from typing import Any

from scrapy import signals
from scrapy.crawler import CrawlerProcess
from scrapy.utils.reactor import install_reactor

from innerhop.fetch.asked import SECONDS_IN_ALL, Asked
from innerhop.fetch.records import Ended, Teller

_ASYNCIO = "twisted.internet.asyncioreactor.AsyncioSelectorReactor"


_ENDS_WITHIN = 20  # seconds


def settings(asked: Asked, folder: Path) -> dict[str, Any]:
    """How Scrapy is to behave."""
    return {
        "TWISTED_REACTOR": _ASYNCIO,
        "USER_AGENT": asked.agent,
        "ROBOTSTXT_OBEY": True,
        "COOKIES_ENABLED": False,
        "TELNETCONSOLE_ENABLED": False,
        "METAREFRESH_ENABLED": False,
        "DOWNLOAD_VERIFY_CERTIFICATES": True,
        "DNS_RESOLVER": "innerhop.fetch.resolver.Judge",
        "LET_THROUGH": dict(asked.let_through),
        "DOWNLOAD_TIMEOUT": asked.patience,
        "DOWNLOAD_DELAY": asked.pause,
        "DOWNLOAD_WARNSIZE": 0,
        "CONCURRENT_REQUESTS_PER_DOMAIN": 4,
        "AUTOTHROTTLE_ENABLED": asked.pause > 0,
        "AUTOTHROTTLE_START_DELAY": asked.pause,
        "AUTOTHROTTLE_TARGET_CONCURRENCY": 2,
        "AUTOTHROTTLE_MAX_DELAY": 10,
        "RETRY_TIMES": 3,
        "REDIRECT_MAX_TIMES": 8,
        "SCHEDULER_MEMORY_QUEUE": "scrapy.squeues.FifoMemoryQueue",  # what is near comes first
        "CLOSESPIDER_TIMEOUT": SECONDS_IN_ALL,
        # What came is kept, so that a fetch that was broken off asks for nothing twice.
        "HTTPCACHE_ENABLED": True,
        "HTTPCACHE_DIR": str((folder / "cache").absolute()),
        "HTTPCACHE_IGNORE_HTTP_CODES": [*range(400, 404), *range(405, 600)],
        "DOWNLOADER_MIDDLEWARES": {
            "scrapy.downloadermiddlewares.httpproxy.HttpProxyMiddleware": None,
            "scrapy.downloadermiddlewares.httpauth.HttpAuthMiddleware": None,
            "innerhop.fetch.manners.OnlySafe": 50,
            "innerhop.fetch.manners.RobotsOrNothing": 540,  # after what failed was tried again
            "innerhop.fetch.manners.Patient": 560,
        },
        "LOG_LEVEL": "ERROR",
        "LOG_FILE": str(folder / "log.txt"),
    }


def main(folder: Path) -> None:
    """Fetch what `folder` says."""
    asked = Asked.kept(folder)
    install_reactor(_ASYNCIO)
    from twisted.internet import reactor as installed  # noqa: PLC0415  (just now)

    from innerhop.fetch.spider import SiteSpider  # noqa: PLC0415

    reactor: Any = installed
    teller = Teller(folder, sys.stdout)
    process = CrawlerProcess(settings(asked, folder))
    crawler = process.create_crawler(SiteSpider)
    begun, stopped = threading.Event(), threading.Event()
    crawler.signals.connect(begun.set, signal=signals.engine_started, weak=False)

    def until_left_alone() -> None:
        sys.stdin.read()
        stopped.set()
        begun.wait(_ENDS_WITHIN)  # what has not begun can't be stopped
        reactor.callFromThread(process.stop)
        time.sleep(_ENDS_WITHIN)
        os._exit(1)  # it is left alone, and hangs: what it has told stands

    threading.Thread(target=until_left_alone, daemon=True).start()
    process.crawl(crawler, asked=asked, teller=teller)
    process.start(install_signal_handlers=False)
    spider: Any = crawler.spider
    teller.tell(Ended(cut=stopped.is_set() or (spider is not None and spider.is_cut)))


if __name__ == "__main__":
    main(Path(sys.argv[1]))
