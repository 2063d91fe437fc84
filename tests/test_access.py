"""Who may call the web application: this machine, or who has the token; no other site."""

from __future__ import annotations

import asyncio
import os
import socket
import ssl
import sys
import unittest
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

import httpx2
from click.testing import CliRunner
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from ferox.cli.main import main
from ferox.formats.server import Reach
from ferox.web.access import COOKIE, MOST_WRONG, Access, Refusal
from ferox.web.app import create_app
from ferox.workspace.vault import (
    SecretUse,
    SecretUseNotAgreed,
    Settings,
    UnsetSecret,
    Vault,
    secret_destination,
)
from tests.async_case import AsyncCase
from tests.serving import AppCase
from tests.waiting import HANG_S
from tests.workspaces import WorkspaceCase

HERE = "127.0.0.1:8640"


class Sites(unittest.TestCase):
    def status(self, access: Access, method: str = "GET", host: str = HERE, **headers: str) -> int:
        named = {name.replace("_", "-"): value for name, value in headers.items()}
        refusal = access.refusal(method, host, named, None)
        return refusal.status if refusal else 200

    def test_this_machine_only_and_no_other_origin(self) -> None:
        here = Access()
        for host in (HERE, "localhost:8640", "[::1]:8640"):
            self.assertEqual(self.status(here, host=host), 200)
        for host in ("evil.example", "127.0.0.1.evil.example", "0x7f.1", "[", ""):
            self.assertEqual(self.status(here, host=host), 403, host)
        self.assertEqual(self.status(here, "POST", Origin=f"http://{HERE}"), 200)
        for origin in (f"https://{HERE}", "http://127.0.0.1:1", "http://evil.example", "null"):
            self.assertEqual(self.status(here, "POST", Origin=origin), 403, origin)

    def test_what_another_site_fetches_is_refused_and_a_link_is_followed(self) -> None:
        here = Access()
        cross = {"Sec_Fetch_Site": "cross-site"}
        self.assertEqual(self.status(here, **cross), 403)
        self.assertEqual(self.status(here, "POST", **cross), 403)
        self.assertEqual(self.status(here, **cross, Sec_Fetch_Mode="navigate"), 200)
        self.assertEqual(self.status(here, "POST", **cross, Sec_Fetch_Mode="navigate"), 403)
        self.assertEqual(self.status(here, Sec_Fetch_Site="same-origin"), 200)

    def test_others_need_the_token(self) -> None:
        access = Access("work-token", "look-token")
        self.assertEqual(self.status(access, host="192.0.2.7:8640"), 401)
        self.assertEqual(self.status(access, host="evil.example"), 403)
        worker, looker = (
            access.enter_by_token("work-token", "a"),
            access.enter_by_token("look-token", "a"),
        )
        assert isinstance(worker, str) and isinstance(looker, str)
        self.assertNotIn("token", worker, "the cookie does not hold the token itself")
        for cookie, method, status in (
            (worker, "POST", None), (worker, "GET", None), (looker, "GET", None),
            (looker, "POST", 403), (looker, "PUT", 403), ("work-token", "GET", 401),
        ):  # fmt: skip
            refusal = access.refusal(method, "192.0.2.7:8640", {}, cookie)
            self.assertEqual(refusal and refusal.status, status, (method, cookie))

    def test_behind_a_proxy(self) -> None:
        access = Access("t", None, "https://desk.example")
        cookie = access.enter_by_token("t", "a")
        assert isinstance(cookie, str)
        own = {"Origin": "https://desk.example"}
        self.assertIsNone(access.refusal("POST", "desk.example", own, cookie))
        other = {"Origin": "http://desk.example"}
        self.assertEqual(
            access.refusal("POST", "desk.example", other, cookie),
            Refusal(403, "no other site may call this"),
        )
        self.assertTrue(access.is_secure)

    def test_wrong_tokens_are_counted_by_who_tries(self) -> None:
        access = Access("right")
        for _ in range(MOST_WRONG):
            found = access.enter_by_token("wrong", "a")
            self.assertEqual(found, Refusal(401, "this is not the token"))
        for token in ("wrong", "right"):
            found = access.enter_by_token(token, "a")
            assert isinstance(found, Refusal)
            self.assertEqual(found.status, 429)
        self.assertIsInstance(access.enter_by_token("right", "b"), str)


class Entering(AppCase):
    def test_a_page_asks_and_a_cookie_remembers(self) -> None:
        app = create_app(self.root, self.engine, Access("right"))
        self.addCleanup(app.extensions["ferox"].loop.close)
        client = app.test_client()
        at = {"base_url": "http://192.0.2.7:8640"}
        page = client.get("/", **at)
        self.assertEqual(page.status_code, 401)
        self.assertIn('type="password"', page.get_data(as_text=True))
        self.assertEqual(client.get("/api/runs", **at).status_code, 401)
        self.assertEqual(client.post("/enter", data={"token": "wrong"}, **at).status_code, 401)
        entered = client.post("/enter", data={"token": "right"}, **at)
        self.assertEqual(entered.status_code, 303)
        cookie = entered.headers["Set-Cookie"]
        self.assertIn(f"{COOKIE}=", cookie)
        self.assertIn("HttpOnly", cookie)
        self.assertIn("SameSite=Lax", cookie)
        self.assertEqual(client.get("/api/runs", **at).status_code, 200)
        wrong = {"Origin": "http://192.0.2.8:8640"}
        self.assertEqual(client.post("/api/runs", json={}, headers=wrong, **at).status_code, 403)


class BehindTls(WorkspaceCase, AsyncCase):
    """A proxy with TLS before a server for others."""

    def certificate(self) -> Path:
        """A certificate for this machine, and its key."""
        key = ec.generate_private_key(ec.SECP256R1())
        name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "localhost")])
        now = datetime.now(UTC)
        made = (
            x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
            .not_valid_before(now - timedelta(days=1))
            .not_valid_after(now + timedelta(days=1))
            .add_extension(x509.SubjectAlternativeName([x509.DNSName("localhost")]), False)
            .sign(key, hashes.SHA256())
        )
        plain = serialization.NoEncryption()
        form = serialization.PrivateFormat.PKCS8
        path = self.root / "pair.pem"
        path.write_bytes(
            key.private_bytes(serialization.Encoding.PEM, form, plain)
            + made.public_bytes(serialization.Encoding.PEM)
        )
        return path

    async def test_one_enters_works_and_follows_a_run(self) -> None:
        pair = self.certificate()
        context = ssl.create_default_context(ssl.Purpose.CLIENT_AUTH)
        context.load_cert_chain(pair)
        inner = free_port()

        async def pipe(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            with suppress(OSError):
                while part := await reader.read(65536):
                    writer.write(part)
                    await writer.drain()
            writer.close()

        async def forward(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
            beyond, back = await asyncio.open_connection("127.0.0.1", inner)
            await asyncio.gather(pipe(reader, back), pipe(beyond, writer))

        proxy = await asyncio.start_server(forward, "127.0.0.1", 0, ssl=context)
        self.addCleanup(proxy.close)
        url = f"https://localhost:{proxy.sockets[0].getsockname()[1]}"
        words = ["-m", "ferox", "serve", str(self.root), "--port", str(inner), "--url", url]
        server = await asyncio.create_subprocess_exec(
            sys.executable, *words, stdout=asyncio.subprocess.PIPE
        )
        self.addAsyncCleanup(server.wait)
        self.addCleanup(server.terminate)
        assert server.stdout is not None
        self.assertIn(url, (await server.stdout.readline()).decode())
        token = (await server.stdout.readline()).decode().split()[-1]
        trust = ssl.create_default_context(cafile=str(pair))
        async with httpx2.AsyncClient(base_url=url, verify=trust, timeout=HANG_S) as http:
            self.assertEqual((await http.get("/api/runs")).status_code, 401)
            entered = await http.post("/enter", data={"token": token})
            self.assertEqual(entered.status_code, 303)
            self.assertIn("Secure", entered.headers["Set-Cookie"])
            body = {"suites": ["small"], "agents": ["plain"], "repeats": 1}
            own = {"Origin": url}
            begun = await http.post("/api/runs", json=body, headers=own)
            self.assertEqual(begun.status_code, 201, begun.text)
            answer = await http.get(f"/api/watch/runs/{begun.json()['id']}")
            self.assertTrue(answer.text.rstrip().endswith('data: "done"'), answer.text[-200:])
            other = {"Origin": url.replace("https", "http")}
            self.assertEqual(
                (await http.post("/api/runs", json=body, headers=other)).status_code, 403
            )


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Secrets(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        self.vault = Vault(self.root)

    def test_only_the_workspaces_own_and_what_is_allowed_by_name(self) -> None:
        os.environ["FEROX_TEST_OUTSIDE"] = "from outside"
        self.addCleanup(os.environ.pop, "FEROX_TEST_OUTSIDE")
        with self.assertRaisesRegex(UnsetSecret, "ferox allow FEROX_TEST_OUTSIDE"):
            self.vault.secret_value("KEY", "FEROX_TEST_OUTSIDE", None)
        self.addCleanup(Settings().write)
        Settings({"FEROX_TEST_OUTSIDE"}).write()
        self.assertEqual(self.vault.secret_value("KEY", "FEROX_TEST_OUTSIDE", None), "from outside")
        with self.assertRaisesRegex(UnsetSecret, r"put INSIDE=… into the workspace's `.env`"):
            self.vault.secret_value("KEY", "INSIDE", None)
        self.vault.keep_secrets({"INSIDE": 'it\'s $HOME "quoted" #1'})
        self.assertEqual(self.vault.secret_value("KEY", "INSIDE", None), 'it\'s $HOME "quoted" #1')
        self.assertEqual((self.root / ".env").stat().st_mode & 0o777, 0o600)
        self.assertEqual((self.root / ".gitignore").read_text(), ".env\n.ferox/\n")

    def test_a_new_address_is_asked_for_and_remembered(self) -> None:
        self.vault.keep_secrets({"KEY": "k"})
        self.addCleanup(Settings().write)
        here, there = SecretUse("KEY", "https://a.example"), SecretUse("KEY", "https://b.example")
        with self.assertRaisesRegex(SecretUseNotAgreed, "ferox agree KEY 'https://a.example'"):
            self.vault.secret_value("x", *vars(here).values())
        self.vault.agree_use(*vars(here).values())
        self.assertEqual(self.vault.secret_value("x", *vars(here).values()), "k")
        self.assertEqual(
            Vault(self.root).unagreed_uses([here, there, SecretUse("NONE", "x")]), [there]
        )
        self.assertFalse(Vault(self.root / "elsewhere").is_agreed(*vars(here).values()))

    def test_where_a_servers_secrets_go(self) -> None:
        for reach, to in (
            ({"url": "https://u:p@h.example:8/mcp?x=1"}, "https://h.example:8"),
            ({"command": ["npx", "-y", "x", {"secret": "T"}]}, "the command npx -y x {T}"),
        ):
            self.assertEqual(secret_destination(Reach.model_validate(reach)), to)

    def test_a_run_with_nobody_at_the_terminal_says_the_line_that_agrees(
        self,
    ) -> None:
        self.write(".env", "DESK_KEY=k\n")
        self.change(
            "agents/plain.yaml", "link: plain", "link: plain\nenv: {KEY: {secret: DESK_KEY}}"
        )
        outcome = CliRunner().invoke(main, ["run", str(self.root)])
        self.assertEqual(outcome.exit_code, 2, outcome.output)
        self.assertIn("ferox agree DESK_KEY 'the agent plain'", outcome.output)
        self.addCleanup(Settings().write)
        agreed = CliRunner().invoke(main, ["agree", str(self.root), "DESK_KEY", "the agent plain"])
        self.assertEqual(agreed.exit_code, 0, agreed.output)
        done = CliRunner().invoke(main, ["run", str(self.root), "--trials", "1"])
        self.assertEqual(done.exit_code, 0, done.output)
