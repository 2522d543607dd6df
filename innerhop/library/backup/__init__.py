"""A site as one file: pages, what was done to them and by whom, in an open format (see
`docs/site-file.md`), written from one database and read into any other."""
