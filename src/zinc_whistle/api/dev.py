"""The service for ``./zw dev``: reloaded on change, over the demo data; the front end comes from Vite."""

from ..demo.seed import seed
from ..store.store import Store, data_folder
from .app import create_app

_store = Store(data_folder() / "demo.sqlite3")
seed(_store)
app = create_app(_store)
