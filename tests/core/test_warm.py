import subprocess
import sys


def test_nothing_is_compiled_by_drawing_after_the_warm_up() -> None:
    command = [sys.executable, "-m", "tests.core.kernels"]
    found = subprocess.run(command, capture_output=True, text=True, check=True)
    assert found.stdout.strip() == ""
