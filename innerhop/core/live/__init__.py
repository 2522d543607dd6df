"""Whether what was planned here is on the site itself: judged by element, not by text, since the
systems that pages live in write them in their own way."""
