"""What a page's screen is told of its page: asked for by that screen and by the acts that
answer with it."""
