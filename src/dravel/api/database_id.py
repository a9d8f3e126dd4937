"""Which data are served: every answer says it, and what a browser typed on other data is not written to these."""

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from dravel.store.database import believed

HEADER = b"dravel-data"


class DatabaseId:
    """ASGI middleware: the identity of the data goes out with every answer of the API, and comes in with what is saved.

    What goes out was looked up a moment ago (another process may restore); what is written asks the file itself.
    """

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not scope["path"].startswith("/api/"):
            await self._app(scope, receive, send)
            return
        meant = dict(scope["headers"]).get(HEADER)
        token = believed.set(None if meant is None else meant.decode("latin-1"))

        async def named(message: Message) -> None:
            if message["type"] == "http.response.start":
                given = (HEADER, scope["app"].state.store.database.known_identity.encode())
                message["headers"] = [*message.get("headers", []), given]
            await send(message)

        try:
            await self._app(scope, receive, named)
        finally:
            believed.reset(token)
