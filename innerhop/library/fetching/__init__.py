"""Sites fetched by their address: staged as they come, and taken in when all is there."""
