"""Server files made from what people have at hand: pasted words, lists, recordings, OpenAPI."""

from __future__ import annotations

import asyncio
import json
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.clock import Clock
from ferox.core.expressions import render_value
from ferox.core.matcher import MatchContext
from ferox.formats.server import Mock, ServerFile
from ferox.making.from_openapi import from_openapi
from ferox.making.mocks import (
    MakingError,
    as_literal,
    from_list,
    from_recording,
    in_few_words,
)
from ferox.making.pasted import parse_pasted
from ferox.making.pasted_server import PastedServer, PasteError
from ferox.making.samples import sample_value
from ferox.servers.sources.mock import MockServer
from ferox.servers.sources.source import SilentCaller, ToolOutput
from ferox.workspace.check_server import check_mock
from ferox.workspace.write import WriteError, edit_document, yaml_text
from ferox.workspace.yaml_files import parse_yaml
from tests.test_recording import JSON, call, exchange, parsed

AT = MatchContext(Clock("2031-03-14T06:30:00Z"))


CALL = st.tuples(st.sampled_from("abc"), st.integers(0, 2), st.sampled_from("xyz"))


def answer(mock: Any, tool: str, args: Any) -> ToolOutput:
    server = MockServer("s", Mock.model_validate(mock), 1, AT)
    return asyncio.run(server.call(tool, args, SilentCaller()))


class Pasting(unittest.TestCase):
    def one(self, text: str) -> PastedServer:
        (found,) = parse_pasted(text)
        ServerFile.model_validate(found.document())
        return found

    def test_launch_lines(self) -> None:
        for text, name, command in (
            ("npx -y @skerrow/server-register /srv", "register",
             ["npx", "-y", "@skerrow/server-register", "/srv"]),
            ("$ uvx mcp-server-tides --zone UTC", "tides",
             ["uvx", "mcp-server-tides", "--zone", "UTC"]),
            ("python -m harbour_register", "harbour_register",
             ["python", "-m", "harbour_register"]),
            ("node /opt/pilots/dist/index.js", "pilots", ["node", "/opt/pilots/dist/index.js"]),
            ("npx \\\n  -y \\\n  @skerrow/notices-mcp@latest", "notices",
             ["npx", "-y", "@skerrow/notices-mcp@latest"]),
            ("docker run -i --rm skerrow/yard", "yard",
             ["docker", "run", "-i", "--rm", "skerrow/yard"]),
        ):  # fmt: skip
            with self.subTest(text):
                found = self.one(text)
                self.assertEqual(found.name, name)
                self.assertEqual(found.live["command"], command)

    def test_variables_in_front_and_a_folder(self) -> None:
        found = self.one('cd ../register && export ZONE="Europe/Lisbon"\nTOKEN=abc DEEP=1 ./serve')
        self.assertEqual(found.live["cwd"], "../register")
        self.assertEqual(
            found.live["env"],
            {"ZONE": "Europe/Lisbon", "TOKEN": {"secret": "TOKEN"}, "DEEP": "1"},
        )
        self.assertIn("kept apart, in the workspace's `.env` as TOKEN", found.notes[0])
        self.assertEqual(found.secrets, {"TOKEN": "abc"})
        self.assertNotIn("abc", json.dumps(found.document()))

    def test_addresses(self) -> None:
        found = self.one("https://tides.skerrow.example/mcp")
        self.assertEqual(found.name, "tides")
        self.assertEqual(found.live, {"url": "https://tides.skerrow.example/mcp"})
        old = self.one("http://127.0.0.1:9000/sse")
        self.assertEqual(old.live["transport"], "sse")

    def test_a_block_with_several_servers(self) -> None:
        found = parse_pasted(
            """
            { // a client's own settings
              "mcpServers": {
                "Harbour register": {"command": "npx", "args": ["-y", "register-mcp"],
                                     "env": {"REGISTER_KEY": "${REGISTER_KEY}", "ZONE": "UTC"}},
                "tides": {"type": "sse", "url": "https://tides.skerrow.example/sse",
                          "headers": {"Authorization": "Bearer sk-123", "X-Desk": "duty"}},
              },
            }
            """
        )
        self.assertEqual([f.name for f in found], ["Harbour-register", "tides"])
        self.assertEqual(found[0].live["env"]["REGISTER_KEY"], {"secret": "REGISTER_KEY"})
        self.assertEqual(
            found[1].live["headers"],
            {"Authorization": {"secret": "TIDES_TOKEN", "prefix": "Bearer "}, "X-Desk": "duty"},
        )
        self.assertEqual(found[1].live["transport"], "sse")
        self.assertNotIn("sk-123", json.dumps([f.document() for f in found]))

    def test_pieces_of_blocks(self) -> None:
        for text in (
            '{"command": "uvx", "args": ["mcp-server-tides"]}',
            '"tides": {"command": "uvx", "args": ["mcp-server-tides"]}',
            '```json\n{"servers": {"tides": {"command": ["uvx", "mcp-server-tides"]}}}\n```',
        ):
            self.assertEqual(self.one(text).live["command"], ["uvx", "mcp-server-tides"], text)

    def test_options_before_the_package(self) -> None:
        for text, name in (
            ("npx --yes --package=@skerrow/tides-mcp tides-server --stdio", "tides"),
            ("npx --registry https://packages.example -y pilots-mcp", "pilots"),
            ("uvx --with httpx --from harbour-register serve-register", "harbour-register"),
            ("uv run --directory /srv/notices server.py", "server"),
            ("uv --directory ../berths run berths-mcp", "berths"),
            ("docker run -i --rm -v /srv:/srv --name x -p 80:80 skerrow/yard:2", "yard"),
            ("node --env-file=.env /opt/pilots/build/index.js", "pilots"),
            ("node --require ./trace.js /opt/pilots/build/index.js", "pilots"),
            ("python3 -X utf8 -m harbour_register", "harbour_register"),
            ("java -cp lib -jar /opt/quays.jar", "quays"),
        ):
            with self.subTest(text):
                self.assertEqual(self.one(text).name, name)

    def test_a_containers_key_stands_in_no_word_of_its_command(self) -> None:
        found = self.one("docker run -i -e TIDES_KEY=sk-1234567890abcdef -e ZONE=UTC skerrow/tides")
        self.assertEqual(found.name, "tides")
        self.assertEqual(
            found.live["command"],
            ["docker", "run", "-i", "-e", "TIDES_KEY", "-e", "ZONE=UTC", "skerrow/tides"],
        )
        self.assertEqual(found.live["env"], {"TIDES_KEY": {"secret": "TIDES_KEY"}})

    def test_blocks_in_yaml_and_toml(self) -> None:
        toml = """
            # a client's settings
            [mcp_servers.tides]
            command = "uvx"
            args = ["mcp-server-tides"]
            env = { ZONE = "UTC" }
        """
        yaml = "mcpServers:\n  tides:\n    command: uvx\n    args: [mcp-server-tides]\n"
        yaml += "    env:\n      ZONE: UTC\n"
        listed = yaml.replace("args: [mcp-server-tides]", "args:\n      - mcp-server-tides")
        for text in (toml, yaml, listed):
            with self.subTest(text):
                found = self.one(text)
                self.assertEqual(found.name, "tides")
                self.assertEqual(found.live["command"], ["uvx", "mcp-server-tides"])
                self.assertEqual(found.live["env"], {"ZONE": "UTC"})
        broken = "[mcp_servers.tides]\ncommand = "
        with self.assertRaisesRegex(PasteError, "cannot be read as TOML"):
            parse_pasted(broken)

    def test_a_page_with_several(self) -> None:
        page = """
            Install it first:
            ```sh
            npm install -g tides-mcp
            ```
            Then run it:
            ```sh
            TIDES_KEY=<your key> npx tides-mcp
            ```
            or use ours:
            ```
            https://tides.skerrow.example/mcp
            ```
        """
        lines = "https://a.example/mcp\nhttps://b.example/mcp"
        self.assertEqual([s.name for s in parse_pasted(lines)], ["a", "b"])
        bullets = "- npx a-mcp\n- npx b-mcp"
        self.assertEqual([s.name for s in parse_pasted(bullets)], ["a", "b"])
        found = parse_pasted("\n".join(line.strip() for line in page.splitlines()))
        self.assertEqual([s.name for s in found], ["tides", "tides-2"])
        two = parse_pasted(
            "git clone https://x.example/y\ncd y\nnpm install\nnpx one-mcp\nnpx two-mcp"
        )
        self.assertEqual([(s.name, s.live["cwd"]) for s in two], [("one", "y"), ("two", "y")])

    def test_variables_as_other_shells_set_them(self) -> None:
        found = self.one('$env:ZONE="UTC"\nset DEEP=1\nnpx tides-mcp')
        self.assertEqual(found.live["env"], {"ZONE": "UTC", "DEEP": "1"})
        with self.assertRaisesRegex(PasteError, "these are variables and no server: ZONE"):
            parse_pasted("ZONE=UTC")

    def test_a_misspelt_address_is_asked_about(self) -> None:
        for text, meant in (
            ("https//tides.example/mcp", "https://tides.example/mcp"),
            ("htps://tides.example/mcp", "https://tides.example/mcp"),
            ("https:/tides.example/mcp", "https://tides.example/mcp"),
            ("http;//127.0.0.1:9000/mcp", "http://127.0.0.1:9000/mcp"),
            ("tides.example/mcp", "https://tides.example/mcp"),
            ("localhost:9000/mcp", "http://localhost:9000/mcp"),
            ("localhost:9000", "http://localhost:9000"),
            ('{"url": "htps://tides.example/mcp"}', "https://tides.example/mcp"),
        ):
            with self.subTest(text), self.assertRaises(PasteError) as refused:
                parse_pasted(text)
            self.assertIn(f"did you mean {meant}?", str(refused.exception))

    def test_nothing_becomes_a_command_that_cannot_be_one(self) -> None:
        for text in (
            "Run the server with your key",
            "Just start it.",
            "Note: it needs a key",
            "“npx” tides-mcp",
            "pip install tides-mcp",
            "npm install && npm run build",
        ):
            with self.subTest(text), self.assertRaises(PasteError):
                parse_pasted(text)

    def test_what_stands_for_something_is_noted(self) -> None:
        found = self.one("API_KEY=<your-key> npx files-mcp /path/to/folder")
        self.assertEqual(found.live["env"], {"API_KEY": {"secret": "API_KEY"}})
        self.assertTrue([n for n in found.notes if "/path/to/folder" in n])

    def test_what_is_no_server(self) -> None:
        for text in ("", "{oops", '{"theme": "dark"}', "A=1", "'"):
            with self.assertRaises(PasteError, msg=text):
                parse_pasted(text)

    @given(st.text(max_size=80))
    def test_anything_is_a_server_or_an_error(self, text: str) -> None:
        try:
            found = parse_pasted(text)
        except PasteError:
            return
        for server in found:
            self.assertTrue(server.name)


class FromRecording(unittest.TestCase):
    def mock(self, *lines: Any) -> Any:
        return from_recording(parsed([x for line in lines for x in line]))

    def test_the_fewest_arguments_that_tell_answers_apart(self) -> None:
        mock = self.mock(
            call(1, {"day": "monday", "zone": "UTC", "n": 1}, "14:31"),
            call(2, {"day": "friday", "zone": "UTC", "n": 2}, "17:05"),
            call(3, {"day": "monday", "zone": "UTC", "n": 3}, "14:31"),
        )
        (tool,) = mock["tools"]
        self.assertEqual(
            [r.get("when") for r in tool["answers"]], [{"day": "monday"}, {"day": "friday"}]
        )
        self.assertEqual(answer(mock, "high_water", {"day": "friday"}).value, "17:05")
        self.assertIn("no answer", str(answer(mock, "high_water", {"day": "x"}).error))

    def test_one_answer_needs_no_condition(self) -> None:
        mock = self.mock(call(1, {"day": "a"}, "14:31"), call(2, {"day": "b"}, "14:31"))
        self.assertEqual(mock["tools"][0]["answers"], [{"give": "14:31"}])

    def test_values_with_one_answer_stand_together(self) -> None:
        mock = self.mock(
            call(1, {"day": "a"}, "1"), call(2, {"day": "b"}, "1"), call(3, {"day": "c"}, "2")
        )
        whens = [r["when"]["day"] for r in mock["tools"][0]["answers"]]
        self.assertEqual(whens, [{"one_of": ["a", "b"]}, "c"])

    def test_the_same_call_with_other_answers_gives_in_turn(self) -> None:
        mock = self.mock(call(1, {}, "one"), call(2, {}, "two"))
        self.assertEqual(mock["tools"][0]["answers"], [{"give_in_turn": ["one", "two"]}])

    def test_an_argument_that_was_not_given_is_a_condition_too(self) -> None:
        mock = self.mock(call(1, {}, "all"), call(2, {"berth": "N1"}, "one"))
        self.assertEqual(answer(mock, "high_water", {}).value, "all")
        self.assertEqual(answer(mock, "high_water", {"berth": "N1"}).value, "one")

    def test_errors_content_and_words_that_look_like_expressions(self) -> None:
        image = {"type": "image", "data": "AA==", "mimeType": "image/png"}
        failed = {"content": [{"type": "text", "text": "No {{ such }} day"}], "isError": True}
        shown = {"content": [image]}
        mock = self.mock(
            exchange(1, "tools/call", {"name": "a", "arguments": {}}, {"result": failed}),
            exchange(2, "tools/call", {"name": "b", "arguments": {}}, {"result": shown}),
            exchange(3, "tools/call", {"name": "c"}, {"error": {"code": -1, "message": "shut"}}),
        )  # fmt: skip
        self.assertEqual(answer(mock, "a", {}).error, "No {{ such }} day")
        self.assertEqual(answer(mock, "b", {}).content, [image])
        self.assertEqual(answer(mock, "c", {}).error, "shut")

    def test_a_tool_that_was_never_called_has_no_made_up_answer(self) -> None:
        definitions = [{"name": name, "inputSchema": {}} for name in ("high_water", "{{ low }}")]
        listed = exchange(9, "tools/list", {}, {"result": {"tools": definitions}})
        mock = self.mock(listed, call(1, {}, "14:31"))
        self.assertEqual(answer(mock, "high_water", {}).value, "14:31")
        never = answer(mock, "{{ low }}", {}).error
        self.assertEqual(never, "not recorded: the recording holds no answer of {{ low }}")
        file = parse_yaml("servers/s.yaml", yaml_text({"ferox": 1, "server": "s", "mock": mock}))
        (note,) = check_mock(file, Mock.model_validate(mock))
        self.assertTrue(note.note)
        self.assertIn("`{{ low }}` was not called in the recording", note.message)

    @given(JSON)
    def test_a_literal_renders_to_itself(self, value: Any) -> None:
        for held in (value, ["{{ a }}", "{% b %}", "{# c #}", {"k": "x {{ y"}]):
            self.assertEqual(render_value(as_literal(held), {}), held)

    @given(st.lists(CALL, min_size=1, max_size=8))
    def test_a_mock_gives_what_was_recorded(self, made: list[tuple[str, int, str]]) -> None:
        last = {(day, n): text for day, n, text in made}
        lines = [call(i, {"day": d, "n": n}, last[d, n]) for i, (d, n, _) in enumerate(made)]
        mock = self.mock(*lines)
        for (day, n), text in last.items():
            self.assertEqual(answer(mock, "high_water", {"day": day, "n": n}).value, text)


class FromAList(unittest.TestCase):
    def test_a_skeleton_answers_with_samples(self) -> None:
        output = {
            "type": "object",
            "properties": {
                "at": {"type": "string", "format": "date-time"},
                "n": {"minimum": 2, "type": "integer"},
            },
        }
        tools = [
            {"name": "a", "inputSchema": {"type": "object"}, "outputSchema": output},
            {"name": "b", "inputSchema": {"type": "object"}, "annotations": {"readOnlyHint": True}},
        ]
        mock = from_list(tools)
        self.assertEqual(answer(mock, "a", {}).structured, {"at": "2031-03-14T06:30:00Z", "n": 2})
        self.assertEqual(answer(mock, "b", {}).value, {"todo": "what b answers"})
        self.assertEqual(mock["tools"][1]["annotations"], {"readOnlyHint": True})

    def test_samples_end(self) -> None:
        endless: dict[str, Any] = {"type": "object", "properties": {}}
        endless["properties"]["again"] = endless
        self.assertIsInstance(sample_value(endless), dict)


class FewWords(unittest.TestCase):
    def test_a_tool(self) -> None:
        tool = in_few_words("assign", "Books.", "berth, start: date-time, note?: text", '{"id": 7}')
        self.assertEqual(tool["input"]["required"], ["berth", "start"])
        self.assertEqual(tool["input"]["properties"]["start"]["format"], "date-time")
        mock = {"tools": [tool]}
        self.assertEqual(answer(mock, "assign", {"berth": "N1", "start": "x"}).value, {"id": 7})
        words = {"tools": [in_few_words("greet", "", "name", "Ahoy {{ args.name }}")]}
        self.assertEqual(answer(words, "greet", {"name": "Ola"}).value, "Ahoy Ola")

    def test_what_is_wrong_is_said(self) -> None:
        for name, arguments in (("a b", ""), ("a", "x: colour"), ("a", "1x")):
            with self.assertRaises(MakingError):
                in_few_words(name, "", arguments, "x")


BERTHS = """
openapi: 3.0.3
info: {title: Berth book}
paths:
  /berths:
    parameters: [{$ref: '#/components/parameters/Side'}]
    get:
      operationId: listBerths
      summary: List the berths
      parameters:
        - name: depth
          in: query
          schema: {type: number, nullable: true, exclusiveMinimum: true, minimum: 0}
        - {name: X-Key, in: header, schema: {type: string}}
      responses:
        '200':
          content:
            application/json:
              schema:
                type: object
                properties:
                  berths: {type: array, items: {$ref: '#/components/schemas/Berth'}}
              examples:
                north: {value: {berths: [{code: N1}]}}
                south: {value: {berths: [{code: S1}]}}
                other: {value: {berths: []}}
  /berths/{code}/bookings:
    post:
      summary: Book a berth
      description: Book a berth.
      parameters: [{name: code, in: path, required: true, schema: {type: string}}]
      requestBody:
        required: true
        content: {application/json: {schema: {$ref: '#/components/schemas/Booking'}}}
      responses:
        '201': {content: {application/json: {schema: {$ref: '#/components/schemas/Booking'}}}}
    delete:
      responses: {'204': {description: gone}}
components:
  parameters:
    Side:
      name: side
      in: query
      schema: {type: string, enum: [north, south]}
      examples: {north: {value: north}, south: {value: south}}
  schemas:
    Berth:
      type: object
      properties: {code: {type: string}, next: {$ref: '#/components/schemas/Berth'}}
    Booking:
      type: object
      required: [imo]
      properties: {imo: {type: string, example: '9471102'}, hours: {type: integer, default: 4}}
"""


class OpenApi(unittest.TestCase):
    def setUp(self) -> None:
        self.title, self.mock, self.notes = from_openapi(BERTHS)
        self.tools = {t["name"]: t for t in self.mock["tools"]}

    def test_operations_become_tools(self) -> None:
        self.assertEqual(self.title, "Berth book")
        names = ["listBerths", "post_berths_code_bookings", "delete_berths_code_bookings"]
        self.assertEqual(list(self.tools), names)
        listing = self.tools["listBerths"]
        self.assertEqual(listing["description"], "List the berths.")
        self.assertEqual(listing["annotations"], {"readOnlyHint": True})
        properties = listing["input"]["properties"]
        self.assertEqual(list(properties), ["side", "depth"])
        self.assertEqual(properties["depth"], {"type": ["number", "null"], "exclusiveMinimum": 0})

    def test_bodies_become_arguments(self) -> None:
        booking = self.tools["post_berths_code_bookings"]["input"]
        self.assertEqual(booking["required"], ["code", "imo"])
        self.assertEqual(list(booking["properties"]), ["code", "imo", "hours"])

    def test_examples_become_answers(self) -> None:
        self.assertEqual(
            answer(self.mock, "listBerths", {"side": "north"}).value, {"berths": [{"code": "N1"}]}
        )
        self.assertEqual(
            answer(self.mock, "listBerths", {"side": "south"}).value, {"berths": [{"code": "S1"}]}
        )
        self.assertEqual(answer(self.mock, "listBerths", {}).value, {"berths": []})
        booked = answer(self.mock, "post_berths_code_bookings", {"code": "N1", "imo": "9471102"})
        self.assertEqual(booked.structured, {"imo": "9471102", "hours": 4})

    def test_what_is_no_openapi_3(self) -> None:
        for text, words in (
            ("swagger: '2.0'", "swagger"),
            ("[1]", "keys and values"),
            ("openapi: 3.1.0\npaths: {}", "no operation"),
            ("openapi: 3.1.0\npaths: {/x: {$ref: 'other.yaml'}}", "leads out of the document"),
            ("openapi: 3.1.0\npaths: {/x: {$ref: '#/nowhere'}}", "leads nowhere"),
            ("a: [", "neither JSON nor YAML"),
        ):
            with self.assertRaises(MakingError) as caught:
                from_openapi(text)
            self.assertIn(words, str(caught.exception))


class Yaml(unittest.TestCase):
    def test_an_edit_keeps_comments_and_order(self) -> None:
        text = "# the pilots' own\nferox: 1\nserver: pilots  # short\nlive: {command: [x]}\n"

        def put(document: Any) -> None:
            document["recording"] = "recordings/calm.jsonl"

        new = edit_document(text, put)
        self.assertEqual(new, text + "recording: recordings/calm.jsonl\n")
        with self.assertRaises(WriteError):
            edit_document("[", put)

    @given(st.dictionaries(st.text(alphabet="abcxyz-", min_size=1, max_size=6), JSON, max_size=3))
    def test_what_is_written_is_read_back(self, document: Any) -> None:
        file = parse_yaml(yaml_text({"ferox": 1, "x": document}), "x.yaml")
        self.assertEqual(file.problems, [])
        self.assertEqual(file.value["x"], document)
