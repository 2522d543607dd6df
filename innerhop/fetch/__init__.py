"""Sites by their address: what is asked for, what is safe, and how it comes. Scrapy does the
fetching, in a process of its own; no framework and no database is known here."""
