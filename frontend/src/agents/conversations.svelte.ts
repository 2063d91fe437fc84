/** A conversation by hand, watched while it goes on. It outlives the panel that shows it. */
import {
  api,
  ask,
  type HoldRule,
  type Conversation,
  type ConversationRequest,
  type HoldDecision,
} from "../api/client";
import { messageOf } from "../api/resource.svelte";
import { watch } from "../api/watch";
import type { Json } from "../values/json";

class ConversationsByHand {
  byAgent = $state.raw<Record<string, Conversation>>({});
  fault = $state("");
  private watched = new Set<string>();

  /** Finds the conversations that went on before the page was loaded. */
  async find() {
    try {
      for (const conversation of (await ask(api.GET("/api/conversations"))).conversations)
        this.take(conversation);
    } catch {
      // Whoever begins one will be told.
    }
  }

  private take(conversation: Conversation) {
    const before = this.byAgent[conversation.agent];
    if (before?.id === conversation.id && before.version > conversation.version) return;
    this.byAgent = { ...this.byAgent, [conversation.agent]: conversation };
    if (!conversation.over && !this.watched.has(conversation.id)) this.watch(conversation);
  }

  private watch(conversation: Conversation) {
    this.watched.add(conversation.id);
    const end = watch<Conversation>("conversations", conversation.id, {
      change: (now) => {
        this.fault = "";
        this.take(now);
        if (this.byAgent[now.agent]?.id !== now.id) {
          end();
          this.watched.delete(now.id);
        }
      },
      over: () => this.watched.delete(conversation.id),
      lost: (gone) => {
        this.fault = gone
          ? "This conversation is no longer known; start another."
          : "Ferox does not answer. Is `ferox serve` still running?";
        if (gone) this.watched.delete(conversation.id);
      },
    });
  }

  async begin(agent: string, body: ConversationRequest) {
    const params = { path: { agent } };
    this.fault = "";
    try {
      this.take(await ask(api.POST("/api/agents/{agent}/conversations", { params, body })));
    } catch (error) {
      this.fault = messageOf(error);
    }
  }

  private async give(answer: Promise<{ data?: Conversation; error?: unknown }>) {
    try {
      this.take(await ask(answer));
      this.fault = "";
    } catch (error) {
      this.fault = messageOf(error);
    }
  }

  say(conversation: Conversation, text: string) {
    const params = { path: { number: conversation.id } };
    return this.give(api.POST("/api/conversations/{number}/say", { params, body: { text } }));
  }

  decide(conversation: Conversation, approved: boolean, args: Record<string, unknown> | null) {
    const params = { path: { number: conversation.id } };
    return this.give(
      api.POST("/api/conversations/{number}/decide", { params, body: { approved, args } }),
    );
  }

  answer(
    conversation: Conversation,
    action: "accept" | "decline" | "cancel",
    content: Record<string, Json>,
  ) {
    const params = { path: { number: conversation.id } };
    const body = { action, content };
    return this.give(api.POST("/api/conversations/{number}/answer", { params, body }));
  }

  decideHeld(conversation: Conversation, body: HoldDecision) {
    const params = { path: { number: conversation.id } };
    return this.give(api.POST("/api/conversations/{number}/hold-decision", { params, body }));
  }

  hold(conversation: Conversation, hold: HoldRule | null) {
    const params = { path: { number: conversation.id } };
    return this.give(api.POST("/api/conversations/{number}/hold", { params, body: { hold } }));
  }

  end(conversation: Conversation) {
    const params = { path: { number: conversation.id } };
    return this.give(api.POST("/api/conversations/{number}/end", { params }));
  }
}

export const conversations = new ConversationsByHand();
