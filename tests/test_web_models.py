"""The interface of models, secrets, offers and beginnings."""

from __future__ import annotations

import json
import os
import shutil
import tempfile
import threading
import unittest
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path
from typing import Any
from unittest import mock

from ferox.gateway.model_seam import model_check
from ferox.store.database import open_database
from ferox.web.app import create_app
from ferox.workspace.vault import Vault, install_vault
from tests.serving import AppCase
from tests.waiting import until

CALLED = {
    "choices": [
        {
            "message": {
                "role": "assistant",
                "content": None,
                "tool_calls": [
                    {"id": "1", "type": "function",
                     "function": {"name": "say_ready", "arguments": "{}"}}
                ],
            }
        }
    ]
}  # fmt: skip


class ModelsCase(AppCase):
    """A workspace whose secrets are its own, and an endpoint on this machine."""

    def setUp(self) -> None:
        super().setUp()
        home = tempfile.mkdtemp(prefix="ferox-settings-")
        self.addCleanup(shutil.rmtree, home)
        patched = mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": home})
        patched.start()
        self.addCleanup(patched.stop)
        install_vault(Vault(self.root))
        self.addCleanup(install_vault, Vault(None))

    def endpoint(self) -> str:
        """The address of one that lists two models and takes tools; it wants the key `kelp`."""

        class Handler(BaseHTTPRequestHandler):
            def answer(self, body: Any) -> None:
                well = self.headers.get("Authorization") == "Bearer kelp"
                text = json.dumps(body if well else {"error": "no"}).encode()
                self.send_response(200 if well else 401)
                self.send_header("Content-Length", str(len(text)))
                self.end_headers()
                self.wfile.write(text)

            def do_GET(self) -> None:
                small = {"id": "tern-small", "context_window": 8000}
                self.answer({"data": [small, {"id": "tern-large"}]})

            def do_POST(self) -> None:
                self.rfile.read(int(self.headers["Content-Length"]))
                self.answer(CALLED)

            def log_message(self, *args: Any) -> None:
                return None

        server = HTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        return f"http://127.0.0.1:{server.server_port}/v1"

    def put(self, path: str, body: Any, status: int = 200) -> Any:
        answer = self.ask(path, body, "PUT")
        self.assertEqual(answer.status, status, answer.body)
        return answer.body

    def models(self) -> dict[str, Any]:
        return {line["name"]: line for line in self.ask("/api/models").body["models"]}

    def look(self, model: str) -> list[tuple[bool | None, str]]:
        begun = self.ask(f"/api/models/{model}/look", {}).body
        number = begun["id"]

        def over() -> Any:
            now = self.ask(f"/api/looks/{number}").body
            return None if now["going"] else now

        return [(f["ok"], f["message"]) for f in until(over)["findings"]]


class Models(ModelsCase):
    def test_each_says_what_stands_behind_it_and_who_thinks_with_it(self) -> None:
        steady = self.models()["steady"]
        self.assertEqual((steady["kind"], steady["simulated"]), ("stand-in", True))
        self.assertIn("plain", steady["agents"])
        self.assertIsNone(steady["secret_set"])
        (stand_in,) = self.ask("/api/models").body["stand_ins"]
        self.assertEqual(stand_in["file"], "stand_ins/desk.yaml")
        self.assertIn("hasty", stand_in["manners"])

    def test_one_is_made_with_its_key_and_looked_at(self) -> None:
        url = self.endpoint()
        source = {
            "base_url": url,
            "name": "tern-small",
            "api_key": {"secret": "TERN_KEY"},
            "price": {"in": 0.5, "out": 2},
        }
        names = self.ask("/api/models/names", {"source": source, "key": "kelp"})
        self.assertEqual(names.body["names"], ["tern-small", "tern-large"])
        self.put("/api/models/tern", {"source": source, "key": "kelp"})
        text = (self.root / "ferox.yaml").read_text()
        self.assertIn("secret: TERN_KEY", text)
        self.assertNotIn("kelp", text)
        self.assertIn("TERN_KEY='kelp'", (self.root / ".env").read_text())
        self.assertTrue(self.models()["tern"]["secret_set"])
        self.assertEqual(self.models()["tern"]["source"]["price"]["in"], 0.5)
        self.assertEqual(
            self.look("tern"),
            [
                (True, f"{url} is there, and has `tern-small`"),
                (True, "it takes tools: it called the one that it was asked to call"),
                (True, "it says that it reads 8,000 tokens"),
                (True, "USD per 1,000,000 tokens: 0.5 sent, 2 answered"),
            ],
        )

    def test_one_that_cannot_be_is_refused_and_nothing_is_written(self) -> None:
        before = (self.root / "ferox.yaml").read_text()
        refused = self.put("/api/models/new", {"source": {"base_url": "ftp://x"}}, 422)
        self.assertIn("it starts with http:// or https://", refused["message"])
        bare = {"source": {"base_url": "http://127.0.0.1:9"}, "key": "kelp"}
        self.assertIn("name the secret", self.put("/api/models/new", bare, 422)["message"])
        self.assertEqual((self.root / "ferox.yaml").read_text(), before)
        self.assertFalse((self.root / ".env").exists())

    def test_one_that_is_used_stays(self) -> None:
        kept = self.ask("/api/models/steady/remove", {})
        self.assertEqual(kept.status, 409)
        self.assertIn("give them another model first", kept.body["message"])
        self.put("/api/models/spare", {"source": {"stand_in": "stand_ins/desk.yaml"}})
        gone = self.ask("/api/models/spare/remove", {})
        self.assertEqual(gone.status, 200, gone.body)
        self.assertNotIn("spare", self.models())
        self.assertEqual(self.ask("/api/models/spare/remove", {}).status, 404)

    def test_a_look_at_one_without_a_key_says_so_and_of_a_simulated_one_that_it_is(self) -> None:
        self.put(
            "/api/models/tern",
            {"source": {"base_url": "http://127.0.0.1:9/v1", "api_key": {"secret": "TERN_KEY"}}},
        )
        self.assertFalse(self.models()["tern"]["secret_set"])
        (unset, price) = self.look("tern")
        self.assertEqual(unset[0], False)
        self.assertIn("TERN_KEY, which is not set", unset[1])
        self.assertEqual(price, (None, "its price is not known: what a run costs is not told"))
        self.assertIn("(simulated)", self.look("steady")[0][1])

    def test_a_key_in_the_file_itself_is_not_shown(self) -> None:
        self.change(
            "ferox.yaml", "models:", "models:\n  bare: {base_url: 'http://x/v1', api_key: kelp}"
        )
        self.assertNotIn("kelp", json.dumps(self.ask("/api/models").body))

    def test_this_machine_is_asked_only_when_somebody_says_so(self) -> None:
        class Handler(BaseHTTPRequestHandler):
            def do_GET(self) -> None:
                self.send_response(200)
                self.end_headers()
                self.wfile.write(b'{"data": [{"id": "near"}]}')

            def log_message(self, *args: Any) -> None:
                return None

        server = HTTPServer(("127.0.0.1", 0), Handler)
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        port = server.server_port
        with mock.patch.object(model_check, "LOCAL_PORTS", (9, port)):
            found = self.ask("/api/models/local", {}).body["found"]
        self.assertEqual(found, [{"base_url": f"http://127.0.0.1:{port}/v1", "models": ["near"]}])


class Secrets(ModelsCase):
    def secrets(self) -> dict[str, Any]:
        return {line["name"]: line for line in self.ask("/api/secrets").body["secrets"]}

    def test_each_says_where_it_comes_from_and_never_its_value(self) -> None:
        self.write(
            "servers/far.yaml",
            "ferox: 1\nserver: far\nlive: {url: 'https://far.example/mcp', headers: "
            "{A: {secret: FAR_KEY}, B: {secret: IN_SHELL}}}\n",
        )
        with mock.patch.dict(os.environ, {"IN_SHELL": "barnacle"}):
            shown = self.secrets()
            self.assertEqual(shown["FAR_KEY"]["state"], "not_set")
            self.assertEqual(shown["FAR_KEY"]["named_in"], ["servers/far.yaml"])
            self.assertEqual(shown["IN_SHELL"]["state"], "not_allowed")
            self.ask("/api/secrets/IN_SHELL/allow", {})
            self.put("/api/secrets/FAR_KEY", {"value": "kelp"})
            shown = self.secrets()
            self.assertEqual(shown["IN_SHELL"]["state"], "environment")
            self.assertEqual(shown["FAR_KEY"]["state"], "env_file")
            self.assertNotIn("kelp", json.dumps(shown))
            self.assertNotIn("barnacle", json.dumps(shown))
        self.assertIn(".env", (self.root / ".gitignore").read_text().split())

    def test_a_name_that_no_variable_can_have_is_refused(self) -> None:
        self.put("/api/secrets/not-one", {"value": "x"}, 422)


class Offers(ModelsCase):
    def test_an_offer_is_written_into_the_agents_file_and_its_comments_stay(self) -> None:
        self.write(
            "agents/plain.yaml", "ferox: 1\nagent: plain  # ours\nlink: plain\nmodel: steady\n"
        )
        detail = self.put("/api/agents/plain/offer", {"offer": {"tides": ["high_water"]}})
        (tides,) = detail["servers"]
        self.assertEqual((tides["tools"], tides["left_out"]), (["high_water"], ["low_water"]))
        text = (self.root / "agents/plain.yaml").read_text()
        self.assertIn("# ours", text)
        refused = self.put("/api/agents/plain/offer", {"offer": {"tides": ["hi_water"]}}, 422)
        self.assertIn("did you mean `high_water`?", refused["message"])
        self.put("/api/agents/plain/offer", {"offer": None})
        self.assertNotIn("offer", (self.root / "agents/plain.yaml").read_text())


class StandIns(ModelsCase):
    def test_a_suites_stand_in_is_written_beside_the_others_and_can_be_edited(self) -> None:
        made = self.ask("/api/suites/small/stand-in", {})
        self.assertEqual(made.status, 201, made.body)
        self.assertEqual(made.body["model"], "stand-in-small")
        self.assertEqual(self.models()["stand-in-small"]["kind"], "stand-in")
        read = self.ask(f"/api/file?name={made.body['file']}").body
        broken = {"name": read["name"], "text": "ferox: 1\n", "stamp": read["stamp"]}
        self.put("/api/file", broken, 422)
        again = self.ask("/api/suites/small/stand-in", {}).body
        self.assertEqual(again["file"], "stand_ins/small-2.yaml")
        self.assertEqual(self.ask("/api/suites/nowhere/stand-in", {}).status, 404)


class Beginnings(unittest.TestCase):
    def setUp(self) -> None:
        self.root = Path(tempfile.mkdtemp(prefix="ferox-begin-"))
        self.addCleanup(shutil.rmtree, self.root)
        engine = open_database(self.root)
        self.addCleanup(engine.dispose)
        app = create_app(self.root, engine)
        self.addCleanup(app.extensions["ferox"].loop.close)
        self.addCleanup(install_vault, Vault(None))
        self.client = app.test_client()

    def ask(self, path: str, body: Any = None) -> Any:
        does = "GET" if body is None else "POST"
        return self.client.open(path, method=does, json=body, base_url="http://127.0.0.1")

    def test_an_empty_folder_becomes_a_workspace(self) -> None:
        self.assertTrue(self.ask("/api/workspace").json["missing"])
        offered = self.ask("/api/beginning").json
        self.assertIsNone(offered["refused"])
        self.assertIn("langgraph", [kind["name"] for kind in offered["kinds"]])
        pasted = "TIDES_KEY=sk-1234567890abcdefABCDEF1234 npx -y @skerrow/tides-mcp"
        made = self.ask("/api/beginning", {"kind": "plain", "server": pasted})
        self.assertEqual(made.status_code, 201, made.text)
        self.assertIn("servers/tides.yaml", made.json["files"])
        now = self.ask("/api/workspace").json
        self.assertEqual((now["missing"], now["problems"]), (False, []))
        self.assertIn("sk-1234567890", (self.root / ".env").read_text())

    def test_what_is_there_is_left_alone(self) -> None:
        (self.root / "mine.txt").write_text("mine")
        self.assertIn("is not empty", self.ask("/api/beginning").json["refused"])
        refused = self.ask("/api/beginning", {"kind": "plain"})
        self.assertEqual(refused.status_code, 409)
        self.assertFalse((self.root / "ferox.yaml").exists())

    def test_what_is_no_server_is_refused_before_anything_is_written(self) -> None:
        refused = self.ask("/api/beginning", {"kind": "plain", "server": "{not a block"})
        self.assertEqual(refused.status_code, 409)
        self.assertFalse((self.root / "ferox.yaml").exists())
        unknown = self.ask("/api/beginning", {"kind": "no-such"})
        self.assertEqual(unknown.status_code, 422)
