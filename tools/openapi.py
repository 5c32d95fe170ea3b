"""Write docs/openapi.json from the application, or check that it is current (--check)."""

import json
import sys
import tempfile
from pathlib import Path

from flinz.server.app import make_app

TARGET = Path(__file__).parents[1] / "docs" / "openapi.json"


def main() -> None:
    """Write or check."""
    with tempfile.TemporaryDirectory() as folder:
        app = make_app(Path(folder))
        text = json.dumps(app.openapi(), indent=1, ensure_ascii=False) + "\n"
        app.state.studio.close()
    if "--check" in sys.argv:
        if not TARGET.exists() or TARGET.read_text() != text:
            sys.exit("docs/openapi.json is stale. Run `make types`.")
        return
    TARGET.write_text(text)


if __name__ == "__main__":
    main()
