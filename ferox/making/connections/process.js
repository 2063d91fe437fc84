// An agent in JavaScript on the npm MCP SDK, as Ferox drives it: one JSON object a line.
import { createInterface } from "node:readline";
import { Client } from "@modelcontextprotocol/sdk/client/index.js";
import { StreamableHTTPClientTransport } from "@modelcontextprotocol/sdk/client/streamableHttp.js";

const say = (message) => process.stdout.write(`${JSON.stringify(message)}\n`);
let model, tools, messages;

async function open({ servers, models, instructions }) {
  [model, tools] = [models.main, new Map()];
  messages = instructions ? [{ role: "system", content: instructions }] : [];
  for (const { url } of Object.values(servers)) {
    const client = new Client({ name: "desk", version: "1" });
    await client.connect(new StreamableHTTPClientTransport(new URL(url)));
    for (const tool of (await client.listTools()).tools) tools.set(tool.name, { client, tool });
  }
}

async function turn(text) {
  messages.push({ role: "user", content: text });
  for (let step = 0; step < 20; step++) {
    const offered = [...tools.values()].map(({ tool }) => ({
      type: "function",
      function: { name: tool.name, description: tool.description, parameters: tool.inputSchema },
    }));
    const answer = await fetch(`${model.base_url}/chat/completions`, {
      method: "POST",
      headers: { "content-type": "application/json", authorization: `Bearer ${model.api_key}` },
      body: JSON.stringify({ model: model.name, messages, tools: offered }),
    });
    if (!answer.ok) throw new Error(`the model answered ${answer.status}`);
    const { message } = (await answer.json()).choices[0];
    messages.push(message);
    if (!message.tool_calls?.length) return message.content;
    for (const { id, function: { name, arguments: args } } of message.tool_calls) {
      const call = { name, arguments: JSON.parse(args) };
      const result = await tools.get(name).client.callTool(call);
      const content = result.content.map((part) => part.text ?? "").join("\n");
      messages.push({ role: "tool", tool_call_id: id, content });
    }
  }
  throw new Error("20 requests, and no reply");
}

for await (const line of createInterface({ input: process.stdin })) {
  const message = JSON.parse(line);
  try {
    if (message.op === "open") await open(message).then(() => say({ op: "ready" }));
    else if (message.op === "turn") say({ op: "reply", text: await turn(message.text) });
    else if (message.op === "close") say({ op: "closed" });
  } catch (error) {
    say({ op: "failed", reason: String(error) });
  }
}
