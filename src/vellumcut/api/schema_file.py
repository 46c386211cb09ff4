"""Print the API's own schema, from which the front end's types are made."""

import json
import tempfile
from pathlib import Path

from vellumcut.api.app import create_app
from vellumcut.store.database import Store


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        store = Store(Path(folder))
        print(json.dumps(create_app(store).openapi(), indent=1))
        store.close()


if __name__ == "__main__":
    main()
