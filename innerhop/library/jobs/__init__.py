"""Work that outlives a request: a row that anybody who may see the site can see, progress, stop,
and an end that is told. procrastinate hands the rows to workers."""
