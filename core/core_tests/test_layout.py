"""Rules of the house that no import checker can say."""

import ast
import unittest
from pathlib import Path

import heron

CORE = Path(heron.__file__).parent


def imports_of_private_names(file: Path) -> list[str]:
    topic = file.relative_to(CORE).parts[0].removesuffix(".py")
    result = []
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("heron"):
            other = (node.module or "").split(".")[1:2]
            private = [alias.name for alias in node.names if alias.name.startswith("_")]
            if private and other != [topic]:
                result.append(f"{file.name}: {node.module} {private}")
    return result


class Layout(unittest.TestCase):
    def test_private_names_stay_in_their_topic(self):
        self.assertEqual([line for file in CORE.rglob("*.py") for line in imports_of_private_names(file)], [])

    def test_every_topic_is_tried_by_a_test(self):
        elsewhere = {"script": "server/server_tests/test_scripts.py"}
        tried: set[str] = set()
        for file in Path(__file__).parent.glob("test_*.py"):
            for node in ast.walk(ast.parse(file.read_text())):
                if isinstance(node, ast.ImportFrom) and node.module == "heron":
                    tried.update(alias.name for alias in node.names)
                elif isinstance(node, ast.ImportFrom) and (node.module or "").startswith("heron."):
                    tried.add((node.module or "").split(".")[1])
        topics = {path.stem for path in CORE.iterdir() if path.suffix in ("", ".py") and not path.name.startswith("_")}
        self.assertGreater(len(topics), 40)
        self.assertEqual(sorted(topics - tried - set(elsewhere)), [])
        for file in elsewhere.values():
            self.assertTrue((CORE.parents[1] / file).exists(), file)
