// The duty desk in JavaScript: the npm MCP SDK for its tools, fetch for its model, and the
// link protocol (one JSON object a line) on standard input and output.
import { createInterface } from "node:readline";
import { Client } from "@modelcontextprotocol/sdk/client/index.js";
import { StreamableHTTPClientTransport } from "@modelcontextprotocol/sdk/client/streamableHttp.js";

const MOST_STEPS = 20;
const say = (message) => process.stdout.write(JSON.stringify(message) + "\n");

// Tools that the harbour master has to let go.
const ASKS_FIRST = { notices_send_notice: "notices/send_notice" };

let desk = null;
const asked = new Map();

// Puts a call to a person: whether it may go, and its arguments as perhaps edited.
function askApproval(id, tool, args) {
  say({ op: "ask", id, tool, args });
  return new Promise((decide) => asked.set(id, decide));
}

async function open(told) {
  const tools = new Map();
  const clients = [];
  for (const [server, { url }] of Object.entries(told.servers)) {
    const client = new Client({ name: "skerrow-desk", version: "1.0.0" });
    await client.connect(new StreamableHTTPClientTransport(new URL(url)));
    clients.push(client);
    let cursor;
    do {
      const page = await client.listTools({ cursor });
      for (const tool of page.tools) tools.set(`${server}_${tool.name}`, { client, tool });
      cursor = page.nextCursor;
    } while (cursor);
  }
  const messages = told.instructions ? [{ role: "system", content: told.instructions }] : [];
  return { model: told.models.main, params: told.params, tools, clients, messages };
}

async function think({ model, params, tools, messages }) {
  const offered = [...tools].map(([name, { tool }]) => ({
    type: "function",
    function: { name, description: tool.description, parameters: tool.inputSchema },
  }));
  const body = { model: model.name, messages, ...params };
  if (offered.length) body.tools = offered;
  const answer = await fetch(`${model.base_url}/chat/completions`, {
    method: "POST",
    headers: { "Content-Type": "application/json", Authorization: `Bearer ${model.api_key}` },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`the model answered HTTP ${answer.status}`);
  return (await answer.json()).choices[0].message;
}

async function call({ tools }, { id, function: { name, arguments: words } }) {
  let content;
  try {
    const found = tools.get(name);
    if (!found) throw new Error(`there is no tool named ${name}`);
    let args = JSON.parse(words || "{}");
    if (ASKS_FIRST[name]) {
      const told = await askApproval(id, ASKS_FIRST[name], args);
      if (told.decision !== "approve") throw new Error("denied by the harbour master");
      args = told.args ?? args;
    }
    const result = await found.client.callTool({ name: found.tool.name, arguments: args });
    const texts = result.content.map((block) => block.text ?? `[${block.type}]`);
    content = (result.isError ? "Error: " : "") + texts.join("\n");
  } catch (error) {
    content = `Error: ${error.message}`;
  }
  return { role: "tool", tool_call_id: id, content };
}

async function turn(text) {
  desk.messages.push({ role: "user", content: text });
  for (let step = 0; step < MOST_STEPS; step++) {
    const message = await think(desk);
    desk.messages.push(message);
    if (!message.tool_calls?.length) return message.content ?? "";
    for (const proposed of message.tool_calls) desk.messages.push(await call(desk, proposed));
  }
  return "I have tried too often, and leave it.";
}

async function close() {
  for (const client of desk?.clients ?? []) {
    await client.transport?.terminateSession().catch(() => {});
    await client.close().catch(() => {});
  }
  desk = null;
}

// Messages are taken as they come, so that `close` is heard in the middle of a turn.
createInterface({ input: process.stdin }).on("line", async (line) => {
  const message = JSON.parse(line);
  try {
    if (message.op === "open") {
      desk = await open(message);
      say({ op: "ready" });
    } else if (message.op === "turn") {
      const here = desk;
      const text = await turn(message.text);
      if (here === desk) say({ op: "reply", text });
    } else if (message.op === "decide") {
      asked.get(message.id)?.(message);
      asked.delete(message.id);
    } else if (message.op === "close") {
      await close();
      say({ op: "closed" });
    }
  } catch (error) {
    if (desk || message.op === "open") say({ op: "failed", reason: error.message });
  }
});
