"""A host that behaves like the world: the demo site, live, on loopback, with faults to order from
its own small page. For trying what becomes of a site that is fetched, with no network."""
