import type { Json } from "../values/json";
export interface paths {
    "/api/agents": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Every agent, also those whose files do not load. */
        get: operations["agents_list_agents_api_agents_get"];
        put?: never;
        /** Write a new agent's files; none of them may be there already. */
        post: operations["agents_new_agent_api_agents_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/agents/{agent}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What an agent's file tells of it. */
        get: operations["agents_agent_detail_api_agents__agent__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/agents/{agent}/conversations": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin a conversation with an agent. */
        post: operations["conversations_start_conversation_api_agents__agent__conversations_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/agents/{agent}/offer": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        /** Change what an agent is offered, in its file, whose comments stay. */
        put: operations["agents_change_offer_api_agents__agent__offer_put"];
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/agents/{agent}/probe": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin to probe an agent. */
        post: operations["probing_start_probe_api_agents__agent__probe_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/beginning": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** With what a workspace may begin. */
        get: operations["beginning_beginning_kinds_api_beginning_get"];
        put?: never;
        /** Make a workspace in the folder that is served, if there is none yet. */
        post: operations["beginning_begin_workspace_api_beginning_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/bringings": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin to send a file of traces. */
        post: operations["bringings_begin_bringing_api_bringings_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/bringings/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How far a file is brought in. */
        get: operations["bringings_bringing_now_api_bringings__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/bringings/{number}/pieces": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Send the next piece of a file. */
        post: operations["bringings_send_piece_api_bringings__number__pieces_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/bringings/{number}/start": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Read a file that has come whole, and keep its traces as a run. */
        post: operations["bringings_start_bringing_api_bringings__number__start_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/bringings/{number}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Bring nothing of a file in. */
        post: operations["bringings_stop_bringing_api_bringings__number__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/calls/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A call as it is now. */
        get: operations["calls_by_hand_call_now_api_calls__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/calls/{number}/answer": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Answer the question that the server asks. */
        post: operations["calls_by_hand_answer_question_api_calls__number__answer_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/calls/{number}/cancel": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Cancel a call that goes on; the server is told. */
        post: operations["calls_by_hand_cancel_call_api_calls__number__cancel_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/compare": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Whether B is better than A, where, and how far it can be believed. */
        get: operations["comparison_compare_two_api_compare_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/compare/report": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** B against A as a page. */
        get: operations["reports_comparison_report_api_compare_report_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/compare/runs": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The newest runs and their agents, to choose from. */
        get: operations["comparison_comparable_runs_api_compare_runs_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/compare/setup": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What differs in the set-up of two sides, as texts. */
        get: operations["comparison_compare_setups_api_compare_setup_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/connections": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How an agent is connected, by link and framework. */
        get: operations["agents_list_connections_api_connections_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The conversations that go on. */
        get: operations["conversations_open_conversations_api_conversations_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A conversation as it is now. */
        get: operations["conversations_conversation_now_api_conversations__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/answer": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Answer a server's question. */
        post: operations["conversations_answer_question_api_conversations__number__answer_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/decide": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Decide an approval. */
        post: operations["conversations_decide_approval_api_conversations__number__decide_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/end": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** End a conversation; it is kept as a trial. */
        post: operations["conversations_end_conversation_api_conversations__number__end_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/hold": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Say which calls are held from now on. */
        post: operations["conversations_change_hold_api_conversations__number__hold_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/hold-decision": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Let a held call go. */
        post: operations["conversations_decide_held_call_api_conversations__number__hold_decision_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/conversations/{number}/say": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Say something to the agent. */
        post: operations["conversations_say_words_api_conversations__number__say_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/drifts/{drift}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How far the comparison has come. */
        get: operations["drift_drift_now_api_drifts__drift__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/drifts/{drift}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Stop asking. */
        post: operations["drift_stop_drift_api_drifts__drift__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/exports/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How far an export is. */
        get: operations["exports_export_now_api_exports__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/exports/{number}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Write no further; there is then no file. */
        post: operations["exports_stop_export_api_exports__number__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A file's text. */
        get: operations["files_read_file_api_file_get"];
        /**
         * Write a file that loads, unless it changed on disk meanwhile.
         * @description <br/>Credentials that were pasted and that it names go into the workspace's `.env`.
         */
        put: operations["files_save_file_api_file_put"];
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/check": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** What is wrong with a text. */
        post: operations["files_check_text_api_file_check_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/format": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A text with its indentation set right; comments and order stay. */
        post: operations["files_format_text_api_file_format_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/remove": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Take a file out of the workspace; it can be restored. */
        post: operations["files_remove_workspace_file_api_file_remove_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/rename": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Give a file, and what it describes, another name; other files are left as they are. */
        post: operations["files_rename_workspace_file_api_file_rename_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/restore": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Put back the file of this name that was removed last. */
        post: operations["files_restore_workspace_file_api_file_restore_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/file/stamp": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /**
         * What tells the state of a file on disk; asked again and again while it is edited.
         * @description <br/>A file that is being renamed or removed is no fault of who asks.
         */
        get: operations["files_file_stamp_api_file_stamp_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/find": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What has all of the words in its name or title. */
        get: operations["finding_find_by_name_api_find_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/formats/{format}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The JSON Schema of one of the workspace's formats. */
        get: operations["files_format_schema_api_formats__format__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/going": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The runs that go on, whoever started them, the newest first. */
        get: operations["runs_runs_in_progress_api_going_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/held/{held}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Let a held call go: as it is, with other arguments, answered, or failed. */
        post: operations["runs_decide_held_call_api_held__int_held__post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/looks/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A look at a model as it is now. */
        get: operations["models_look_now_api_looks__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/looks/{number}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** End a look at a model. */
        post: operations["models_stop_look_api_looks__number__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/mocks": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A mocked server from an OpenAPI document or a few words; not yet written. */
        post: operations["making_new_mock_api_mocks_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Every model of the workspace. */
        get: operations["models_list_models_api_models_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models/local": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Ask this machine's usual ports for models. */
        post: operations["models_local_endpoints_api_models_local_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models/names": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** The names of the models that an endpoint lists; it need not be written yet. */
        post: operations["models_endpoint_names_api_models_names_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models/{model}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        /** Write a model into `ferox.yaml`, whose comments stay; its key goes into `.env`. */
        put: operations["models_write_model_api_models__model__put"];
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models/{model}/look": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin to look at a model: is it there, does it take tools, how much does it read? */
        post: operations["models_look_at_api_models__model__look_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/models/{model}/remove": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Take a model out of `ferox.yaml`. */
        post: operations["models_remove_model_api_models__model__remove_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/pasted": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** The servers in pasted words, as files that are not written yet. */
        post: operations["making_paste_servers_api_pasted_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/plan/read": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** What the plan in an editor would run. */
        post: operations["plans_read_plan_api_plan_read_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/plan/reword": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Two confused tools side by side, and the tasks to try other words on. */
        get: operations["plans_basis_of_rewording_api_plan_reword_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/plan/start": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Run the plan in an editor, whether or not it is saved. */
        post: operations["plans_start_plan_api_plan_start_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/plans": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The plans' files, and the newest runs of each. */
        get: operations["plans_plan_files_api_plans_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/probes/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A probe as it is now. */
        get: operations["probing_probe_now_api_probes__number__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/recording": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A page of a recording. */
        get: operations["recordings_show_recording_api_recording_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/recording/cut": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A new recording with only some of the exchanges. */
        post: operations["recordings_cut_recording_api_recording_cut_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/recording/draft": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A recorded session as a task. */
        post: operations["drafts_from_session_api_recording_draft_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/recording/edit": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Another answer to one exchange, in the file itself. */
        post: operations["recordings_edit_recording_api_recording_edit_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/recording/merge": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A new recording of two. */
        post: operations["recordings_merge_recordings_api_recording_merge_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/relays": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Every relay that stands, or waits to be kept. */
        get: operations["relays_list_relays_api_relays_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/relays/{relay}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A relay as it is now. */
        get: operations["relays_relay_now_api_relays__relay__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/relays/{relay}/drop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Throw away what passed. */
        post: operations["relays_drop_relay_api_relays__relay__drop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/relays/{relay}/keep": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Keep what passed as a recording of the workspace. */
        post: operations["relays_keep_relay_api_relays__relay__keep_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/relays/{relay}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** End a relay; its recording waits to be kept. */
        post: operations["relays_stop_relay_api_relays__relay__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/replays/{replay}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A replay, as far as it is. */
        get: operations["replays_read_one_replay_api_replays__int_replay__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/replays/{replay}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Ask a replay to stop; what is done stays. */
        post: operations["replays_stop_replay_api_replays__int_replay__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The newest hundred runs. */
        get: operations["runs_newest_runs_api_runs_get"];
        put?: never;
        /** Plan a run and start its worker. */
        post: operations["runs_start_run_api_runs_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/estimate": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** What a run would take, by what its tasks and agents took before; none is started. */
        post: operations["runs_estimate_run_now_api_runs_estimate_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/again": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Start a run of only what failed in this one. */
        post: operations["runs_run_failed_again_api_runs__int_run__again_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/arms": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The arms of a run beside their baselines. */
        get: operations["plans_arms_of_run_api_runs__int_run__arms_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/board": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Tasks against agents, and what changed since each cell's last comparable run. */
        get: operations["runs_run_board_api_runs__int_run__board_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/exports": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin to write a run's trials in a format, or to send them to a collector. */
        post: operations["exports_start_export_api_runs__int_run__exports_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/hold": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Say which calls of a run are held from now on. */
        post: operations["runs_change_hold_api_runs__int_run__hold_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/replays": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The newest replays of a run. */
        get: operations["replays_replays_of_one_run_api_runs__int_run__replays_get"];
        put?: never;
        /** Begin to play trials of a run back to its agents of today. */
        post: operations["replays_start_replay_api_runs__int_run__replays_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/report": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What a run came to, as a page or as markdown. */
        get: operations["reports_run_report_api_runs__int_run__report_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/resume": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Do what a stopped or interrupted run has not done. */
        post: operations["runs_resume_run_api_runs__int_run__resume_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Ask a run's worker to stop. */
        post: operations["runs_stop_run_now_api_runs__int_run__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/runs/{run}/trials": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The trials of one cell. */
        get: operations["runs_cell_trials_api_runs__int_run__trials_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/secrets": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Every secret, and whether it has a value. */
        get: operations["secrets_list_secrets_api_secrets_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/secrets/agree": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Let a secret of the workspace go to an address from now on. */
        post: operations["secrets_agree_secret_api_secrets_agree_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/secrets/{secret}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        /** Put a secret's value into the workspace's `.env`. */
        put: operations["secrets_keep_secret_api_secrets__secret__put"];
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/secrets/{secret}/allow": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Read a secret from the variable of that name in Ferox's environment from now on. */
        post: operations["secrets_allow_variable_api_secrets__secret__allow_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The workspace's tool servers and the ways to them. */
        get: operations["servers_list_servers_api_servers_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/beside": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Reach a server both ways, and compare their lists of tools. */
        post: operations["beside_set_beside_api_servers__server__beside_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/calls": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A tool's earlier calls by hand. */
        get: operations["calls_by_hand_earlier_calls_api_servers__server__calls_get"];
        put?: never;
        /** Call a tool by hand; a call that takes long is watched. */
        post: operations["calls_by_hand_call_tool_api_servers__server__calls_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/connection": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How a server's connection is doing; none is made. */
        get: operations["servers_show_connection_api_servers__server__connection_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/drift": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Ask the live server the recorded calls again that only read. */
        post: operations["drift_start_drift_api_servers__server__drift_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/mock": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A server's file with a mock made for it; not yet written. */
        post: operations["making_mock_of_api_servers__server__mock_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/prompt": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Fill in a prompt. */
        post: operations["calls_by_hand_fill_in_prompt_api_servers__server__prompt_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/reach": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Connect to a server, and tell what it offers or why it cannot be reached. */
        post: operations["servers_reach_server_api_servers__server__reach_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/read": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Read a resource. */
        post: operations["calls_by_hand_read_resource_api_servers__server__read_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/recordings": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A server's recordings, and what was captured of it in runs. */
        get: operations["recordings_list_recordings_api_servers__server__recordings_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/relay": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Stand before a live server. */
        post: operations["relays_start_relay_api_servers__server__relay_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/tool": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A tool's definition as it was last seen. */
        get: operations["servers_show_tool_api_servers__server__tool_get"];
        put?: never;
        /** Add a tool in a few words to a server's mock, and write it. */
        post: operations["making_add_tool_api_servers__server__tool_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/tools": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A page of the tools that a server offered when it was last looked at. */
        get: operations["servers_list_tools_api_servers__server__tools_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/servers/{server}/wording": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How the definitions read that a server was last seen to give. */
        get: operations["servers_show_wording_api_servers__server__wording_get"];
        put?: never;
        /** Change what the agent reads of a tool, in the server's file. */
        post: operations["making_reword_tool_api_servers__server__wording_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/shrinks/{shrinking}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How far it is. */
        get: operations["shrinking_shrinking_now_api_shrinks__shrinking__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/shrinks/{shrinking}/draft": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** What is left as a task of a suite's file, to be reviewed; not yet written. */
        post: operations["shrinking_keep_as_task_api_shrinks__shrinking__draft_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/shrinks/{shrinking}/stop": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** End it with what is left by now. */
        post: operations["shrinking_stop_shrinking_api_shrinks__shrinking__stop_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suite/read": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** The tasks of a text, and the picture of the one that the cursor is in. */
        post: operations["tasks_read_suite_api_suite_read_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suite/rejudge": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Stored trials of a task as the text in the editor would judge them. */
        post: operations["tasks_rejudge_trials_api_suite_rejudge_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suite/rescore": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Score one batch of stored trials under the script on disk; ask again for the next. */
        post: operations["tasks_rescore_batch_api_suite_rescore_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suite/stale": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How many stored trials were last scored under another script than is on disk. */
        get: operations["tasks_count_stale_api_suite_stale_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suite/tools": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The tools that a script may name. */
        get: operations["tasks_known_tools_of_servers_api_suite_tools_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suites": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The suites' files. */
        get: operations["tasks_suite_files_api_suites_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/suites/{suite}/stand-in": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Write a simulated model that carries out what a suite expects. */
        post: operations["tasks_make_stand_in_api_suites__suite__stand_in_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Everything about one trial; while it runs, what happened so far. */
        get: operations["trials_read_one_trial_api_trials__int_trial__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/digest": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A finished trial in plain text. */
        get: operations["trials_trial_digest_api_trials__int_trial__digest_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/draft": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A trial as a task. */
        post: operations["drafts_from_trial_api_trials__int_trial__draft_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/events/{place}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** A piece of an event that is too long to be sent whole. */
        get: operations["trials_event_piece_api_trials__int_trial__events__int_place__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/forks": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What came of a trial's forks so far. */
        get: operations["forks_forks_of_trial_api_trials__int_trial__forks_get"];
        put?: never;
        /** Go on from a place in a trial, some times over. */
        post: operations["forks_start_forks_api_trials__int_trial__forks_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/keep": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The suite that a trial's task belongs into: one that uses its servers, in its modes. */
        get: operations["drafts_where_to_keep_api_trials__int_trial__keep_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/mark": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        /** Keep a person's mark and note; the checks stay as they are. */
        put: operations["trials_mark_trial_api_trials__int_trial__mark_put"];
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/mend": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** A plan, as text, of what could mend a failing trial; nothing runs yet. */
        post: operations["plans_plan_of_mending_api_trials__int_trial__mend_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/models/{event}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What a model was shown in one request. */
        get: operations["trials_what_model_was_shown_api_trials__int_trial__models__event__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/replay": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What became of a trial when it was last played back. */
        get: operations["replays_last_replay_api_trials__int_trial__replay_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/shrink": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Begin to leave out of a failing trial what it fails without. */
        post: operations["shrinking_start_shrinking_api_trials__int_trial__shrink_post"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/trials/{trial}/wire/{call}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The raw messages of a call at the tool seam. */
        get: operations["trials_raw_messages_api_trials__int_trial__wire__call__get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/watch/{kind}/{number}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Server-sent events while something goes on; the last says that it is over. */
        get: operations["watch"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/workspace": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What of the workspace on disk loads, and what is wrong with the rest. */
        get: operations["runs_workspace_on_disk_api_workspace_get"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
}
export type webhooks = Record<string, never>;
export interface components {
    schemas: {
        /**
         * AddressShape
         * @description A standing address of a running service.
         */
        AddressShape: {
            /** Name */
            name: string;
            /** Url */
            url: string;
        };
        /**
         * AgentDetail
         * @description Everything about an agent that its file tells.
         */
        AgentDetail: {
            /** All Models */
            all_models: string[];
            clock: components["schemas"]["ClockShape"];
            /** Fault Sets */
            fault_sets: string[];
            /** Instructions */
            instructions: string;
            /** Limits */
            limits: {
                [key: string]: number;
            };
            line: components["schemas"]["AgentLine"];
            /** Models */
            models: components["schemas"]["ModelShape"][];
            /** Own Tools */
            own_tools: string[];
            /** Params */
            params: {
                [key: string]: unknown;
            };
            /** Processes */
            processes: number;
            /** Reached */
            reached: string;
            /** Servers */
            servers: components["schemas"]["OfferedShape"][];
            /** Standing */
            standing: components["schemas"]["AddressShape"][];
            /** Standing Command */
            standing_command: boolean;
            /** Unset */
            unset: string | null;
            /** Variables */
            variables: components["schemas"]["VariableShape"][];
        };
        /**
         * AgentLine
         * @description An agent as the list shows it; one whose file does not load has only its problems.
         */
        AgentLine: {
            /** Agent */
            agent: string;
            /** File */
            file: string;
            /** Link */
            link: string | null;
            /** Model */
            model: string | null;
            /** Problems */
            problems: components["schemas"]["ProblemShape"][];
            /** Simulated */
            simulated: boolean;
            /** Title */
            title: string | null;
        };
        /**
         * AgentList
         * @description Every agent of the workspace, by file.
         */
        AgentList: {
            /** Agents */
            agents: components["schemas"]["AgentLine"][];
        };
        /**
         * AgentShape
         * @description An agent, or an arm, as lists show it. `file`: the agent's name in its file, which differs
         *     for an arm; `simulated`: its model is a stand-in.
         */
        AgentShape: {
            /** Agent */
            agent: string;
            /** File */
            file: string;
            /** Link */
            link: string;
            /** Model */
            model: string | null;
            /** Simulated */
            simulated: boolean;
            /** Title */
            title: string | null;
        };
        /**
         * AgreeRequest
         * @description A secret that may go to an address from now on.
         */
        AgreeRequest: {
            /** Secret */
            secret: string;
            /** To */
            to: string;
        };
        /**
         * AlternativePicture
         * @description One alternative of a part: calls with their chains, and limits.
         */
        AlternativePicture: {
            /** Calls */
            calls: components["schemas"]["CallPicture"][];
            /** Limits */
            limits: components["schemas"]["LimitPicture"][];
            /** Order */
            order: string[][];
        };
        /**
         * AnswerRequest
         * @description An answer to a server's question.
         */
        AnswerRequest: {
            /**
             * Action
             * @enum {string}
             */
            action: "accept" | "decline" | "cancel";
            /**
             * Content
             * @default {}
             */
            content: {
                [key: string]: unknown;
            };
        };
        /**
         * ArgPicture
         * @description An expected argument: what it must be, and the calls that its value comes from.
         */
        ArgPicture: {
            /** Description */
            description: string;
            /** Name */
            name: string;
            /** Sources */
            sources: string[];
        };
        /**
         * ArmReport
         * @description One arm of a run. `against`: its baseline, None for a baseline itself.
         *
         *     `values`: by dimension; `changed`: the dimensions in which it differs from the baseline. `tools`
         *     and `definition_tokens`: what it was offered, mean over suites; `offered_recall`: of its
         *     expected calls, the share whose tool its model was shown; `chosen_of_shown`: of those, the share
         *     that it called. Times are geometric means in ms. None is what was not seen. Of a plan that asks
         *     what would mend a task: the `change` in words, and its `meaning` where it passes more often.
         */
        ArmReport: {
            /** Against */
            against: string | null;
            /** Agent */
            agent: string;
            /** Arm */
            arm: string;
            /** Change */
            change: string | null;
            /** Changed */
            changed: string[];
            choice: components["schemas"]["MeanReport"] | null;
            choice_difference: components["schemas"]["DifferenceReport"] | null;
            /** Chosen Of Shown */
            chosen_of_shown: number | null;
            /** Definition Tokens */
            definition_tokens: number | null;
            /** Errors */
            errors: number;
            /** Meaning */
            meaning: string | null;
            /** Model Ms */
            model_ms: number | null;
            /** N */
            n: number;
            /** Offered Recall */
            offered_recall: number | null;
            pass_difference: components["schemas"]["DifferenceReport"] | null;
            pass_rate: components["schemas"]["MeanReport"] | null;
            /** Passes */
            passes: number;
            /** Stopped After */
            stopped_after: number | null;
            /** Tokens */
            tokens: number | null;
            /** Tools */
            tools: number | null;
            /** Turn Ms */
            turn_ms: number | null;
            /** Values */
            values: {
                [key: string]: string;
            };
        };
        /**
         * ArmsReport
         * @description The arms of a run of a plan.
         *
         *     `saved` of `all_trials`: what a run that ends once it is decided did without; None: it does not
         *     end so. `z`: of the limits, which is that of so many looks.
         */
        ArmsReport: {
            /** All Trials */
            all_trials: number;
            /** Arms */
            arms: components["schemas"]["ArmReport"][];
            /** Decided After */
            decided_after: number | null;
            /** Design */
            design: string;
            /** Dimensions */
            dimensions: components["schemas"]["DimensionReport"][];
            /** Looks */
            looks: number[];
            /** Mends */
            mends: string | null;
            /** Plan */
            plan: string;
            /** Run */
            run: number;
            /** Saved */
            saved: number | null;
            /** Sweep */
            sweep: components["schemas"]["SweepLine"][];
            /** Title */
            title: string | null;
            /** Z */
            z: number;
        };
        /**
         * AskEvent
         * @description The agent asked for an approval; `edited` are all arguments as edited.
         */
        AskEvent: {
            /** Args */
            args?: Json;
            /**
             * Decision
             * @enum {string}
             */
            decision?: "approve" | "deny";
            /** Edited */
            edited?: Json;
            /** Id */
            id?: string;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "ask";
            /** S */
            s?: number | null;
            /** T */
            t: number;
            /** Tool */
            tool: string;
        };
        /**
         * BeginningKind
         * @description A kind of agent that a workspace may begin with.
         */
        BeginningKind: {
            /** Name */
            name: string;
            /** Needs */
            needs: string;
            /** Title */
            title: string;
        };
        /**
         * BeginningKinds
         * @description Every kind of agent, and the folder that a workspace would be made in.
         */
        BeginningKinds: {
            /** Folder */
            folder: string;
            /** Kinds */
            kinds: components["schemas"]["BeginningKind"][];
            /** Refused */
            refused: string | null;
        };
        /**
         * BeginningRequest
         * @description What a workspace begins with: an agent of a kind, and perhaps a server of the user's.
         */
        BeginningRequest: {
            /**
             * Kind
             * @default plain
             */
            kind: string;
            /**
             * Server
             * @default
             */
            server: string;
        };
        /**
         * BegunWorkspace
         * @description A new workspace: its files, what to know of them, and what its agent's environment needs.
         */
        BegunWorkspace: {
            /** Agent */
            agent: string;
            /** Files */
            files: string[];
            /** Needs */
            needs: string;
            /** Notes */
            notes: string[];
        };
        /**
         * BesideRequest
         * @description Two ways to one server.
         */
        BesideRequest: {
            /** Mode */
            mode: string;
            /** Other */
            other: string;
        };
        /**
         * BesideShape
         * @description How the lists of two ways differ: first that of `mode`, then that of `other`.
         */
        BesideShape: {
            /** Differing */
            differing: components["schemas"]["ListChangeShape"][];
            /** Instructions */
            instructions: [
                string | null,
                string | null
            ];
            /** Only One */
            only_one: string[];
            /** Only Other */
            only_other: string[];
            /** Protocols */
            protocols: [
                string | null,
                string | null
            ];
            /** Same */
            same: string[];
        };
        /**
         * BoardShape
         * @description The board of one run; `plan`: its plan's name, if its columns are arms.
         */
        BoardShape: {
            /** Agents */
            agents: components["schemas"]["AgentShape"][];
            /** Cells */
            cells: components["schemas"]["CellShape"][];
            ledger: components["schemas"]["LedgerShape"];
            /** Plan */
            plan: string | null;
            run: components["schemas"]["RunShape"];
            /** Suites */
            suites: components["schemas"]["SuiteShape"][];
        };
        /**
         * BringingRequest
         * @description The file whose pieces follow, by its name.
         */
        BringingRequest: {
            /** Name */
            name: string;
        };
        /**
         * BringingShape
         * @description How far a file is brought in, and what became of it. `bytes` have come.
         */
        BringingShape: {
            /** By Words */
            by_words: string[];
            /** Bytes */
            bytes: number;
            /** Done */
            done: number;
            /** Id */
            id: string;
            /** Judged */
            judged: number;
            /** Left Out */
            left_out: string[];
            /** Message */
            message: string | null;
            /** Name */
            name: string;
            /** Passes */
            passes: number;
            /** Run */
            run: number | null;
            /**
             * State
             * @enum {string}
             */
            state: "waiting" | "running" | "done" | "failed" | "stopped";
            /** Total */
            total: number;
            /** Trials */
            trials: number;
            /** Version */
            version: number;
        };
        /**
         * BringingStart
         * @description What is said of its traces besides what they tell; see `ferox bring`.
         */
        BringingStart: {
            /**
             * Agent
             * @default null
             */
            agent: string | null;
            /**
             * Clock
             * @default null
             */
            clock: string | null;
            /**
             * Task
             * @default null
             */
            task: string | null;
        };
        /**
         * CallByHandShape
         * @description A call by hand: what came, what was said meanwhile, the messages both ways.
         *
         *     For a mock also its state before and after, and what changed (JSON Patch).
         */
        CallByHandShape: {
            /** After */
            after: {
                [key: string]: unknown;
            } | null;
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** Before */
            before: {
                [key: string]: unknown;
            } | null;
            /** Changes */
            changes: {
                [key: string]: unknown;
            }[];
            /** Content */
            content: {
                [key: string]: unknown;
            }[];
            /** Error */
            error: string | null;
            /** Events */
            events: {
                [key: string]: unknown;
            }[];
            /** Id */
            id: string;
            /** Log */
            log: {
                [key: string]: unknown;
            }[];
            /** Ms */
            ms: number;
            question: components["schemas"]["QuestionShape"] | null;
            /** Remark */
            remark: string | null;
            /**
             * State
             * @enum {string}
             */
            state: "running" | "done" | "failed" | "cancelled";
            /** Structured */
            structured: Json;
            /** Tool */
            tool: string;
            /** Version */
            version: number;
        };
        /**
         * CallError
         * @description Why a call, or a request to a model, did not end well.
         *
         *     `code` is a protocol error's, `status` an HTTP answer's.
         */
        CallError: {
            /** Code */
            code?: number;
            /** Kind */
            kind: string;
            /** Message */
            message: string;
            /** Status */
            status?: number | null;
        };
        /**
         * CallEvent
         * @description A call of a tool; `s` is null if no answer ever came.
         *
         *     `sent` are the arguments as the agent wrote them, where they are not those that went out;
         *     `by_hand` what a person did to a held call; `hides` the served tool in whose place the agent
         *     answered; `by` who inside the agent called; `content` what is beyond text in the answer.
         */
        CallEvent: {
            /** Args */
            args?: Json;
            /** By */
            by?: string | null;
            /** By Hand */
            by_hand?: string;
            /** Content */
            content?: {
                [key: string]: unknown;
            }[];
            error?: components["schemas"]["CallError"] | null;
            /** Fault */
            fault?: string | null;
            /** Fault N */
            fault_n?: number | null;
            /** Hides */
            hides?: string;
            /** Id */
            id: string;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "call";
            /** Nearest */
            nearest?: boolean;
            /** Not Seen */
            not_seen?: ("calls" | "proposals" | "offers" | "arguments" | "results" | "outcomes" | "times" | "turns" | "words" | "reply" | "data" | "instructions" | "approvals" | "rules" | "truth" | "usage")[];
            /** Proposal */
            proposal?: string | null;
            /** Result */
            result?: Json;
            /** S */
            s?: number | null;
            /**
             * Seam
             * @enum {string}
             */
            seam?: "tool" | "local" | "model";
            /** Sent */
            sent?: Json;
            /** T */
            t: number;
            /** Tool */
            tool: string;
        };
        /**
         * CallLine
         * @description A request that passed a relay, and how it was answered; `s` is None while it waits.
         */
        CallLine: {
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** Error */
            error: string | null;
            /** Method */
            method: string;
            /** Number */
            number: number;
            /** S */
            s: number | null;
            /** Session */
            session: number;
            /** T */
            t: number;
            /** Tool */
            tool: string | null;
        };
        /**
         * CallPicture
         * @description One expected call.
         */
        CallPicture: {
            /** After Grant */
            after_grant: string | null;
            /** Approval */
            approval: string | null;
            /** Args */
            args: components["schemas"]["ArgPicture"][];
            /** As Approved */
            as_approved: boolean;
            /** By */
            by: string | null;
            /** Line */
            line: number;
            /** Name */
            name: string;
            /** Often */
            often: string | null;
            /** Only Args */
            only_args: boolean;
            /** Optional */
            optional: boolean;
            /** Tool */
            tool: string;
        };
        /**
         * CallRequest
         * @description A call to try by hand.
         */
        CallRequest: {
            /**
             * Args
             * @default {}
             */
            args: {
                [key: string]: unknown;
            };
            /** Mode */
            mode: string;
            /** Tool */
            tool: string;
        };
        /**
         * CauseShape
         * @description What went wrong in a cell's failed trials, and trials that show it.
         */
        CauseShape: {
            /** Failed Check */
            failed_check: string | null;
            /** Message */
            message: string | null;
            /** Trials */
            trials: number[];
        };
        /**
         * CellShape
         * @description One task against one agent. `interval`: Wilson, 95 %.
         */
        CellShape: {
            /** Agent */
            agent: string;
            /** Comb */
            comb: components["schemas"]["FamilyMeanShape"][];
            /** Errors */
            errors: number;
            /** Interval */
            interval: [
                number,
                number
            ] | null;
            /** N */
            n: number;
            /** Passes */
            passes: number;
            /** Running */
            running: number;
            /** Suite */
            suite: string;
            /** Task */
            task: string;
            /** Unjudged */
            unjudged: number;
            /** Waiting */
            waiting: number;
        };
        /**
         * ChangedCheckShape
         * @description A check that comes out otherwise.
         */
        ChangedCheckShape: {
            /** Id */
            id: string;
            /** Message */
            message: string;
            /** Now */
            now: boolean | null;
            /** Was */
            was: boolean | null;
        };
        /**
         * Check
         * @description One criterion with its evidence. `passed: None` is a remark: it decides nothing.
         */
        Check: {
            /** Calls */
            calls: string[];
            /**
             * Family
             * @enum {string}
             */
            family: "choice" | "arguments" | "order" | "failures" | "latency" | "outcome";
            /** Id */
            id: string;
            /** Message */
            message: string;
            /** Part */
            part?: number;
            /** Passed */
            passed: boolean | null;
        };
        /**
         * CheckRequest
         * @description A text to be checked as if it stood in the file.
         */
        CheckRequest: {
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * ClockShape
         * @description Which day it is for an agent in a conversation by hand: `now` by RFC 3339, and the suite
         *     that says so; without one it is the real time, and `now` is null until it begins.
         */
        ClockShape: {
            /** Now */
            now: string | null;
            /** Suite */
            suite: string | null;
            /** Zone */
            zone: string;
        };
        /**
         * ComparableRun
         * @description A run, and the agents in it, or the arms of its plan.
         */
        ComparableRun: {
            /** Agents */
            agents: string[];
            /** Created At */
            created_at: number;
            /** Plan */
            plan: string | null;
            /** Run */
            run: number;
            /** Title */
            title: string;
        };
        /**
         * ComparableRuns
         * @description What can be compared: the newest runs.
         */
        ComparableRuns: {
            /** Runs */
            runs: components["schemas"]["ComparableRun"][];
        };
        /**
         * ComparisonReport
         * @description B against A over the tasks that both have, and what was set apart.
         */
        ComparisonReport: {
            /** A */
            a: string;
            /** B */
            b: string;
            /** Confusions */
            confusions: components["schemas"]["ConfusionReport"][];
            /** Differs */
            differs: string[];
            /** Looks */
            looks: number | null;
            /** Metrics */
            metrics: components["schemas"]["MetricReport"][];
            /** Never Confused */
            never_confused: components["schemas"]["LookAlikesReport"][];
            /** Only A */
            only_a: string[];
            /** Only B */
            only_b: string[];
            /** Other Script */
            other_script: string[];
            /** Same Within */
            same_within: number;
            /** Sentence */
            sentence: string;
            /** Shared Tasks */
            shared_tasks: number;
            /** Tasks */
            tasks: components["schemas"]["TaskReport"][];
            /** Turns A */
            turns_a: number[];
            /** Turns B */
            turns_b: number[];
        };
        /**
         * Confusion
         * @description One tool chosen where another was expected.
         */
        Confusion: {
            /** Call */
            call: string;
            /** Chosen */
            chosen: string;
            /** Expected */
            expected: string;
        };
        /**
         * ConfusionReport
         * @description How often a tool was chosen in another's place, on each side, of `n_a` and `n_b` calls that
         *     were expected of it (None: they were not counted).
         *
         *     `chosen` may be `nothing`, or `not offered`. `likeness`: on paper, from 0 to 1, with the words
         *     that only one of the two has; None: a definition of one of them was not seen.
         */
        ConfusionReport: {
            /** A */
            a: number;
            /** B */
            b: number;
            /** Chosen */
            chosen: string;
            /** Expected */
            expected: string;
            /** Likeness */
            likeness: number | null;
            /** N A */
            n_a: number | null;
            /** N B */
            n_b: number | null;
            /** Trials A */
            trials_a: number[];
            /** Trials B */
            trials_b: number[];
            /** Words Chosen */
            words_chosen: string[];
            /** Words Expected */
            words_expected: string[];
        };
        /**
         * ConnectionList
         * @description Every way that Ferox knows.
         */
        ConnectionList: {
            /** Connections */
            connections: components["schemas"]["ConnectionTemplate"][];
        };
        /**
         * ConnectionShape
         * @description A server's connection as it is now: the newest messages, and what the server said.
         */
        ConnectionShape: {
            /** Connected */
            connected: boolean;
            /** List Changed */
            list_changed: boolean;
            /** Lost */
            lost: string | null;
            /** Messages */
            messages: {
                [key: string]: unknown;
            }[];
        };
        /**
         * ConnectionTemplate
         * @description One way of building an agent: its files, and what is worth knowing of it.
         */
        ConnectionTemplate: {
            /** Files */
            files: components["schemas"]["FileText"][];
            /** Link */
            link: string;
            /** Name */
            name: string;
            /** Needs */
            needs: string;
            /** Particular */
            particular: string;
            /** Standing */
            standing: components["schemas"]["AddressShape"][];
            /** Title */
            title: string;
        };
        /**
         * ContentsShape
         * @description A resource's contents or a prompt's messages, as the protocol writes them.
         */
        ContentsShape: {
            /** Items */
            items: {
                [key: string]: unknown;
            }[];
        };
        /**
         * ConversationList
         * @description The conversations that go on.
         */
        ConversationList: {
            /** Conversations */
            conversations: components["schemas"]["ConversationShape"][];
        };
        /**
         * ConversationRequest
         * @description How a conversation by hand is held.
         */
        ConversationRequest: {
            /** @default null */
            hold: components["schemas"]["HoldShape"] | null;
            /**
             * Offer
             * @default null
             */
            offer: {
                [key: string]: "all" | string[];
            } | null;
            /**
             * @default {
             *       "faults": null,
             *       "models": {},
             *       "modes": {}
             *     }
             */
            overrides: components["schemas"]["OverridesShape"];
        };
        /**
         * ConversationShape
         * @description A conversation by hand so far.
         */
        ConversationShape: {
            /** Agent */
            agent: string;
            clock: components["schemas"]["ClockShape"];
            /** Events */
            events: (components["schemas"]["TurnEvent"] | components["schemas"]["ModelEvent"] | components["schemas"]["CallEvent"] | components["schemas"]["AskEvent"] | components["schemas"]["HoldEvent"] | components["schemas"]["QuestionEvent"] | components["schemas"]["EmbedEvent"] | components["schemas"]["PartialEvent"] | components["schemas"]["ReplyEvent"] | components["schemas"]["EndEvent"])[];
            hold: components["schemas"]["HoldShape"] | null;
            /** Id */
            id: string;
            /** Over */
            over: boolean;
            /** Servers */
            servers: {
                [key: string]: string;
            };
            /** Trial */
            trial: number;
            /** Version */
            version: number;
            waits: components["schemas"]["PendingInputShape"] | null;
            /** Without */
            without: {
                [key: string]: string;
            };
        };
        /**
         * CutRequest
         * @description Which exchanges to keep, and the name of what comes of it.
         */
        CutRequest: {
            /** File */
            file: string;
            /** Keep */
            keep: number[];
            /** Name */
            name: string;
        };
        /**
         * DecideRequest
         * @description A decision about an approval; `args` are all arguments as edited.
         */
        DecideRequest: {
            /** Approved */
            approved: boolean;
            /**
             * Args
             * @default null
             */
            args: {
                [key: string]: unknown;
            } | null;
        };
        /**
         * DiagnosisShape
         * @description Why a server cannot be reached, and what to try next.
         */
        DiagnosisShape: {
            /** Advice */
            advice: string;
            /** @default null */
            agree: components["schemas"]["AgreeRequest"] | null;
            /** Kind */
            kind: string;
            /** Problem */
            problem: string;
        };
        /**
         * DifferenceReport
         * @description An arm against its baseline: the difference and its limits on these tasks.
         */
        DifferenceReport: {
            /** Difference */
            difference: number;
            /** High */
            high: number | null;
            /** Low */
            low: number | null;
            /** Says */
            says: string;
        };
        /**
         * DifferenceShape
         * @description One place where two values differ, by JSON Pointer.
         */
        DifferenceShape: {
            /** After */
            after: Json;
            /** Before */
            before: Json;
            /** Where */
            where: string;
        };
        /**
         * DigestShape
         * @description A trial in plain text.
         */
        DigestShape: {
            /** Text */
            text: string;
        };
        /**
         * DimensionReport
         * @description One thing that was varied.
         */
        DimensionReport: {
            /** Baseline */
            baseline: string;
            /** Name */
            name: string;
            /** Values */
            values: string[];
        };
        /**
         * DraftRequest
         * @description Where a task made from a trial goes: a file of a suite, there or new.
         */
        DraftRequest: {
            /** File */
            file: string;
            /** Task */
            task: string;
        };
        /**
         * DraftShape
         * @description A suite's text with a task added to it; not yet written.
         */
        DraftShape: {
            /** Name */
            name: string;
            /** Reasons */
            reasons: components["schemas"]["InferenceShape"][];
            /** Stamp */
            stamp: string | null;
            /** Task */
            task: string;
            /** Text */
            text: string;
        };
        /**
         * DriftRequest
         * @description A recording to be held against a live way; `also`: tools asked though they may write.
         */
        DriftRequest: {
            /**
             * Also
             * @default []
             */
            also: string[];
            /** File */
            file: string;
            /** Mode */
            mode: string;
        };
        /**
         * DriftShape
         * @description What changed since a recording, as far as it was looked at.
         */
        DriftShape: {
            /** Calls */
            calls: components["schemas"]["RepeatedCallShape"][];
            /** Id */
            id: string;
            /** Message */
            message: string | null;
            /**
             * State
             * @enum {string}
             */
            state: "running" | "done" | "stopped" | "failed";
            /** Tools */
            tools: components["schemas"]["ListChangeShape"][];
            /** Total */
            total: number;
        };
        /**
         * EarlierCall
         * @description A call tried before.
         */
        EarlierCall: {
            /** Answer */
            answer: {
                [key: string]: unknown;
            };
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** At */
            at: number;
            /** Id */
            id: number;
            /** Mode */
            mode: string;
        };
        /**
         * EarlierCalls
         * @description A tool's earlier calls by hand, the newest first.
         */
        EarlierCalls: {
            /** Calls */
            calls: components["schemas"]["EarlierCall"][];
        };
        /**
         * EarlierInstructions
         * @description The agent's instructions in the run before.
         */
        EarlierInstructions: {
            /** Run */
            run: number;
            /** Same */
            same: boolean;
            /** Text */
            text: string;
        };
        /**
         * EditRequest
         * @description Another answer to one exchange: {result: …} or {error: …}.
         */
        EditRequest: {
            /** Answer */
            answer: {
                [key: string]: unknown;
            };
            /** File */
            file: string;
            /** Number */
            number: number;
        };
        /**
         * EmbedEvent
         * @description A request for embeddings of so many texts.
         */
        EmbedEvent: {
            error?: components["schemas"]["CallError"] | null;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "embed";
            /** S */
            s?: number | null;
            /** T */
            t: number;
            /** Texts */
            texts?: number;
            usage?: components["schemas"]["Usage"] | null;
            /** Voice */
            voice?: string;
        };
        /**
         * EndEvent
         * @description The trial's end.
         */
        EndEvent: {
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "end";
            /** Reason */
            reason?: string | null;
            /** T */
            t: number;
            /**
             * Why
             * @enum {string}
             */
            why?: "done" | "no_reply" | "crash" | "did_not_start" | "limit" | "stopped" | "could_not_run";
        };
        /**
         * EndpointNames
         * @description The names of the models that an endpoint lists.
         */
        EndpointNames: {
            /** Names */
            names: string[];
        };
        /**
         * ErrorMessage
         * @description What went wrong, and what to do about it.
         */
        ErrorMessage: {
            /** Message */
            message: string;
        };
        /**
         * Estimate
         * @description What a run would take.
         *
         *     `seconds` and tokens come from `known` of its `cells`, those that have run before; what has not
         *     is taken to be like them. They are None if nothing has. `money` is by currency, for the models
         *     whose price is known; what those in `unpriced` cost is not.
         */
        Estimate: {
            /** Cells */
            cells: number;
            /** Known */
            known: number;
            /** Live */
            live: components["schemas"]["LiveServer"][];
            /** Money */
            money: {
                [key: string]: number;
            };
            /** Seconds */
            seconds: number | null;
            /** Tokens In */
            tokens_in: number | null;
            /** Tokens Out */
            tokens_out: number | null;
            /** Trials */
            trials: number;
            /** Unpriced */
            unpriced: string[];
            /** Warnings */
            warnings: string[];
        };
        /**
         * ExchangeShape
         * @description One exchange of a recording: the request, and its answer as the protocol writes it.
         */
        ExchangeShape: {
            /** Answer */
            answer: {
                [key: string]: unknown;
            } | null;
            /** Method */
            method: string;
            /** Number */
            number: number;
            /** Params */
            params: {
                [key: string]: unknown;
            };
            /** S */
            s: number | null;
            /** Session */
            session: number;
            /** T */
            t: number;
        };
        /**
         * ExpectedShape
         * @description An expected call as the script has it.
         */
        ExpectedShape: {
            /** After Grant */
            after_grant: string | null;
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** Descriptions */
            descriptions: {
                [key: string]: string;
            };
            /** Least */
            least: number;
            /** Most */
            most: number;
            /** Name */
            name: string;
            /** Optional */
            optional: boolean;
            /** Part */
            part: number;
            /** Tool */
            tool: string;
        };
        /**
         * ExportRequest
         * @description A run's trials in a format. `each_trial`: of JUnit, a case for each; `to`: a collector's
         *     address that spans are sent to, in place of a file.
         */
        ExportRequest: {
            /**
             * Each Trial
             * @default false
             */
            each_trial: boolean;
            /**
             * Format
             * @enum {string}
             */
            format: "traces" | "results" | "baseline" | "csv" | "junit" | "otlp" | "run";
            /**
             * To
             * @default null
             */
            to: string | null;
        };
        /**
         * ExportShape
         * @description How far an export is, and the name of its file.
         */
        ExportShape: {
            /** Done */
            done: number;
            /**
             * Format
             * @enum {string}
             */
            format: "traces" | "results" | "baseline" | "csv" | "junit" | "otlp" | "run";
            /** Id */
            id: string;
            /** Message */
            message: string | null;
            /** Name */
            name: string;
            /** Run */
            run: number;
            /**
             * State
             * @enum {string}
             */
            state: "waiting" | "running" | "done" | "failed" | "stopped";
            /** Total */
            total: number;
            /** Version */
            version: number;
        };
        /**
         * FamilyMeanShape
         * @description One family of a cell.
         */
        FamilyMeanShape: {
            /** Family */
            family: string;
            /** N */
            n: number;
            /** Score */
            score: number | null;
        };
        /**
         * FileQuery
         * @description A workspace's file, such as `servers/tides.yaml`.
         */
        FileQuery: {
            /** Name */
            name: string;
        };
        /**
         * FileRequest
         * @description A file to be written; `stamp` is that it was read with, None for a new one.
         */
        FileRequest: {
            /** Name */
            name: string;
            /**
             * Stamp
             * @default null
             */
            stamp: string | null;
            /** Text */
            text: string;
        };
        /**
         * FileShape
         * @description A file's text, and the stamp by which a change on disk is noticed.
         */
        FileShape: {
            /** Name */
            name: string;
            /** Stamp */
            stamp: string;
            /** Text */
            text: string;
        };
        /**
         * FileText
         * @description A file that connects an agent.
         */
        FileText: {
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * FindingShape
         * @description One thing found of a model; `ok` null is a doubt.
         */
        FindingShape: {
            /** Advice */
            advice: string;
            /** Message */
            message: string;
            /** Ok */
            ok: boolean | null;
        };
        /**
         * ForkChange
         * @description One thing that is otherwise from the point on; none: is it luck?
         *
         *     `answer` is the result that a call gets; `error` an error in its place; `say` the words of the
         *     model, or of the user; `call` what the model proposes; `model` who is asked from then on.
         *     `without` are tools that models are no longer shown, and `wording` one that they are shown with
         *     another description, whatever the agent says of it.
         */
        ForkChange: {
            /**
             * Answer
             * @default null
             */
            answer: Json;
            /** @default null */
            call: components["schemas"]["OtherCall"] | null;
            /**
             * Error
             * @default null
             */
            error: string | null;
            /** @default null */
            fault: components["schemas"]["InjectedFault"] | null;
            /**
             * Model
             * @default null
             */
            model: string | null;
            /**
             * Say
             * @default null
             */
            say: string | null;
            /**
             * Without
             * @default []
             */
            without: string[];
            /** @default null */
            wording: components["schemas"]["OtherWording"] | null;
        };
        /**
         * ForkFacts
         * @description Of which trial, and from which point of it, a trial goes on.
         */
        ForkFacts: {
            /** At */
            at: string;
            /** Change */
            change: string;
            /** Not Repeated */
            not_repeated: string[];
            /** Run */
            run: number;
            /** T */
            t: number | null;
            /** Trial */
            trial: number;
            /** Unlike */
            unlike: string[];
        };
        /**
         * ForkList
         * @description All forks of a trial, the oldest first.
         */
        ForkList: {
            /** Forks */
            forks: components["schemas"]["ForkedTrialsShape"][];
        };
        /**
         * ForkRequest
         * @description From which place of the trial, what is otherwise, and how often.
         */
        ForkRequest: {
            /** At */
            at: string;
            /**
             * @default {
             *       "answer": null,
             *       "call": null,
             *       "error": null,
             *       "fault": null,
             *       "model": null,
             *       "say": null,
             *       "without": [],
             *       "wording": null
             *     }
             */
            change: components["schemas"]["ForkChange"];
            /**
             * Repeats
             * @default 1
             */
            repeats: number;
        };
        /**
         * ForkedTrialsShape
         * @description The forks of one run. `parted`: they did something else before their point, and do not
         *     count; `left`: they are not done. `unlike` and `not_repeated`: what of the past a mock answered
         *     otherwise, and servers whose calls were not made again.
         */
        ForkedTrialsShape: {
            /** At */
            at: string;
            /** Change */
            change: string;
            /** Detail */
            detail: string | null;
            /** Errors */
            errors: number;
            /** Judged */
            judged: number;
            /** Left */
            left: number;
            /** Not Repeated */
            not_repeated: string[];
            /** Parted */
            parted: number;
            /** Passed */
            passed: number;
            /** Run */
            run: number;
            /**
             * State
             * @enum {string}
             */
            state: "waiting" | "running" | "done" | "stopped" | "interrupted";
            /** Trials */
            trials: components["schemas"]["TrialLine"][];
            /** Unlike */
            unlike: string[];
            /** Words */
            words: string;
        };
        /**
         * FormatShape
         * @description A format's JSON Schema.
         */
        FormatShape: {
            /** Definition */
            definition: {
                [key: string]: unknown;
            };
            /** Format */
            format: string;
        };
        /**
         * FoundThing
         * @description Something by its name; `within` is the server of a tool, the file of a task's suite or of a
         *     plan.
         */
        FoundThing: {
            /**
             * Kind
             * @enum {string}
             */
            kind: "server" | "tool" | "task" | "agent" | "plan" | "run" | "trial";
            /** Name */
            name: string;
            /**
             * Title
             * @default null
             */
            title: string | null;
            /**
             * Within
             * @default null
             */
            within: string | null;
        };
        /**
         * FoundThings
         * @description What was found, the nearest of each kind first.
         */
        FoundThings: {
            /** Found */
            found: components["schemas"]["FoundThing"][];
        };
        /**
         * HeldList
         * @description The calls of a run that are held.
         */
        HeldList: {
            /** Held */
            held: components["schemas"]["HeldShape"][];
        };
        /**
         * HeldShape
         * @description A call that is held; `at`: seconds since the epoch.
         */
        HeldShape: {
            /** Agent */
            agent: string;
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** At */
            at: number;
            /** Id */
            id: number;
            /** Task */
            task: string;
            /** Tool */
            tool: string;
            /** Trial */
            trial: number;
        };
        /**
         * HoldChange
         * @description Which calls are held from now on; null: none.
         */
        HoldChange: {
            hold: components["schemas"]["HoldShape"] | null;
        };
        /**
         * HoldDecisionRequest
         * @description What becomes of a held call.
         */
        HoldDecisionRequest: {
            /**
             * Do
             * @enum {string}
             */
            do: "go" | "args" | "answer" | "fail";
            /**
             * Value
             * @default null
             */
            value: Json;
        };
        /**
         * HoldEvent
         * @description A call was held until a person let it go; `call` is the call that came of it.
         */
        HoldEvent: {
            /** Args */
            args?: Json;
            /** Call */
            call?: string | null;
            /** Did */
            did?: string;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "hold";
            /** S */
            s?: number | null;
            /** T */
            t: number;
            /** Tool */
            tool?: string;
        };
        /**
         * HoldShape
         * @description Which calls are held.
         */
        HoldShape: {
            /**
             * Tool
             * @default *
             */
            tool: string;
            /**
             * When
             * @enum {string}
             */
            when: "any" | "writes" | "first" | "tool";
        };
        /**
         * InferenceShape
         * @description One thing that was inferred, and why.
         */
        InferenceShape: {
            /** What */
            what: string;
            /** Why */
            why: string;
        };
        /**
         * InjectedFault
         * @description A fault that strikes at the point.
         */
        InjectedFault: {
            /** Do */
            do: ("slow" | "timeout" | "tool_error" | "protocol_error" | "status" | "drop" | "garbled" | "wrong_shape" | "empty" | "huge" | "lost_session" | "missing_tool" | "tools_changed" | "planted_text") | ("model_slow" | "model_status" | "model_bad_arguments" | "model_unknown_tool" | "model_cut_off");
            /**
             * Ms
             * @default 3000
             */
            ms: number;
            /**
             * Status
             * @default 503
             * @enum {integer}
             */
            status: 401 | 403 | 404 | 429 | 500 | 503;
            /**
             * Text
             * @default null
             */
            text: string | null;
        };
        /**
         * IntervalReport
         * @description Limits of a difference; of times, of a ratio.
         */
        IntervalReport: {
            /** High */
            high: number;
            /** Low */
            low: number;
            /** Method */
            method: string;
        };
        /**
         * KeepRequest
         * @description How a recording is to be kept; `use`: the server's file is to name it.
         */
        KeepRequest: {
            /** Name */
            name: string;
            /**
             * Use
             * @default true
             */
            use: boolean;
        };
        /**
         * KeepShape
         * @description Where a trial is best kept as a task: a suite's file that uses its servers; null: a new
         *     suite. `servers` are those that it used, with their modes.
         */
        KeepShape: {
            /** File */
            file: string | null;
            /** Servers */
            servers: {
                [key: string]: string;
            };
        };
        /**
         * KnownTool
         * @description A tool that a script may name, by its address.
         */
        KnownTool: {
            /** Arguments */
            arguments: components["schemas"]["OfferedArgument"][];
            /** Description */
            description: string;
            /** Tool */
            tool: string;
        };
        /**
         * KnownTools
         * @description The tools of all servers, as far as files or earlier looks tell.
         */
        KnownTools: {
            /** Tools */
            tools: components["schemas"]["KnownTool"][];
            /** Unknown */
            unknown: string[];
        };
        /**
         * LastReplay
         * @description The last replay of a trial, if there was one.
         */
        LastReplay: {
            last: components["schemas"]["ReplayedShape"] | null;
        };
        /**
         * LatencyFigures
         * @description Milliseconds. A turn that never ended is None; so is what a trace from elsewhere does not
         *     tell.
         */
        LatencyFigures: {
            /** Agent Ms */
            agent_ms: number | null;
            /** Ask Ms */
            ask_ms: number;
            /** Model Ms */
            model_ms: number | null;
            /** Tool Ms */
            tool_ms: number | null;
            /** Turn Ms */
            turn_ms: (number | null)[];
        };
        /**
         * LedgerEntryShape
         * @description A cell beside its predecessor, the run `base`.
         */
        LedgerEntryShape: {
            /** Agent */
            agent: string;
            /** Base */
            base: number | null;
            /** Before */
            before: [
                number,
                number
            ] | null;
            cause: components["schemas"]["CauseShape"];
            /** Now */
            now: [
                number,
                number
            ];
            /** Suite */
            suite: string;
            /** Task */
            task: string;
            was: components["schemas"]["CauseShape"] | null;
        };
        /**
         * LedgerGroupShape
         * @description Cells that changed in the same way for the same cause. `differs`: parts of the set-up;
         *     `known`: why the suite says that they fail for now.
         */
        LedgerGroupShape: {
            /** Differs */
            differs: string[];
            /** Entries */
            entries: components["schemas"]["LedgerEntryShape"][];
            /** Failed Check */
            failed_check: string | null;
            /**
             * Kind
             * @enum {string}
             */
            kind: "broke" | "otherwise" | "mended" | "fails" | "wavers" | "known";
            /** Known */
            known: string | null;
            /** Message */
            message: string | null;
        };
        /**
         * LedgerShape
         * @description What changed, how many cells could be compared and with which runs.
         */
        LedgerShape: {
            /** Bases */
            bases: number[];
            /** Compared */
            compared: number;
            /** Failing As Before */
            failing_as_before: number;
            /** Groups */
            groups: components["schemas"]["LedgerGroupShape"][];
            /** No Predecessor */
            no_predecessor: number;
        };
        /**
         * LimitPicture
         * @description Something forbidden, limited or demanded, with its line. `forbids`: it must not happen.
         */
        LimitPicture: {
            /**
             * Forbids
             * @default false
             */
            forbids: boolean;
            /** Line */
            line: number;
            /** Text */
            text: string;
        };
        /**
         * LinkFacts
         * @description How the link went: seconds to open, lines that were not messages, and whether the agent
         *     heeded `close`.
         */
        LinkFacts: {
            /** Closed */
            closed: boolean;
            /** Rubbish */
            rubbish: number;
            /** Start S */
            start_s: number;
        };
        /**
         * ListChangeShape
         * @description A tool that came, went or changed.
         */
        ListChangeShape: {
            /** Kind */
            kind: string;
            /** Tool */
            tool: string;
            /** What */
            what: components["schemas"]["DifferenceShape"][];
        };
        /**
         * LiveServer
         * @description A live server that trials would reach. `may_write` counts the tools that do not say that
         *     they only read; None if its tools have never been seen.
         */
        LiveServer: {
            /** May Write */
            may_write: number | null;
            /** Mode */
            mode: string;
            /** Server */
            server: string;
        };
        /**
         * LocalEndpoint
         * @description An endpoint that was found on this machine.
         */
        LocalEndpoint: {
            /** Base Url */
            base_url: string;
            /** Models */
            models: string[];
        };
        /**
         * LocalEndpoints
         * @description The endpoints that answer on this machine's usual ports.
         */
        LocalEndpoints: {
            /** Asked */
            asked: number[];
            /** Found */
            found: components["schemas"]["LocalEndpoint"][];
        };
        /**
         * LookAlikesReport
         * @description Two tools on offer that look alike and were never taken for each other.
         */
        LookAlikesReport: {
            /** Likeness */
            likeness: number;
            /** One */
            one: string;
            /** Other */
            other: string;
        };
        /**
         * LookShape
         * @description A look at a model so far.
         */
        LookShape: {
            /** Findings */
            findings: components["schemas"]["FindingShape"][];
            /** Going */
            going: boolean;
            /** Id */
            id: string;
            /** Model */
            model: string;
            /** Version */
            version: number;
        };
        /**
         * MadeShape
         * @description A server's file with the mock put in, not yet written, and what to know of it.
         */
        MadeShape: {
            /** Name */
            name: string;
            /** Notes */
            notes: string[];
            /** Stamp */
            stamp: string | null;
            /** Text */
            text: string;
        };
        /**
         * MadeStandInShape
         * @description A stand-in made from a suite: its file, the model that it is, and what is left to write.
         */
        MadeStandInShape: {
            /** File */
            file: string;
            /** Model */
            model: string;
            /** Notes */
            notes: string[];
        };
        /**
         * MarkRequest
         * @description What a person thinks of a trial, apart from its checks.
         */
        MarkRequest: {
            /** Mark */
            mark: ("right" | "wrong" | "unsure") | null;
            /**
             * Note
             * @default
             */
            note: string;
        };
        /**
         * MarkShape
         * @description A person's mark and note on a trial.
         */
        MarkShape: {
            /** At */
            at: number;
            /** Mark */
            mark: string | null;
            /** Note */
            note: string;
        };
        /**
         * MeanReport
         * @description A mean over tasks and its limits, by its repeats; None: a task has one value only.
         */
        MeanReport: {
            /** High */
            high: number | null;
            /** Low */
            low: number | null;
            /** Mean */
            mean: number;
        };
        /**
         * MendDraft
         * @description A plan of what could mend a trial, and its changes in words.
         */
        MendDraft: {
            /** Changes */
            changes: string[];
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * MendRequest
         * @description How often each change is tried, and a sentence for the instructions in one arm.
         */
        MendRequest: {
            /**
             * Sentence
             * @default null
             */
            sentence: string | null;
            /**
             * Trials
             * @default 10
             */
            trials: number;
        };
        /**
         * MentionShape
         * @description A field of a call or a truth that an answer has to mention, and the check that tests it.
         */
        MentionShape: {
            /** Check */
            check: string;
            /** Path */
            path: string;
            /** Source */
            source: string;
        };
        /**
         * MergeRequest
         * @description Two recordings of one server, and the name of what comes of them.
         */
        MergeRequest: {
            /** File */
            file: string;
            /** Name */
            name: string;
            /** Other */
            other: string;
        };
        /**
         * MessageShape
         * @description A message as the model got it; `new`: it was not in the request before. `not_kept`: its
         *     characters, if it was too long to be kept.
         */
        MessageShape: {
            /** Body */
            body: Json;
            /** New */
            new: boolean;
            /** Not Kept */
            not_kept: number | null;
        };
        /**
         * MetricReport
         * @description A metric of A and B. `difference` is B less A; of times (`ratio`) B to A. `caution`: where
         *     the interval on these tasks promises too much.
         */
        MetricReport: {
            /** A */
            a: number | null;
            /** B */
            b: number | null;
            /** Caution */
            caution: string | null;
            /** Corrected P */
            corrected_p: number | null;
            /** Difference */
            difference: number | null;
            like_these: components["schemas"]["IntervalReport"] | null;
            /** Metric */
            metric: string;
            /** N A */
            n_a: number;
            /** N B */
            n_b: number;
            /** Ratio */
            ratio: boolean;
            /** Says */
            says: string;
            /** Tasks */
            tasks: number;
            these: components["schemas"]["IntervalReport"] | null;
        };
        /**
         * Missing
         * @description A required call that was not made, and why.
         */
        Missing: {
            /** Name */
            name: string;
            /** Why */
            why: string;
        };
        /**
         * MockRequest
         * @description A mock to be made for a server: from its live list, a recording, or an OpenAPI text.
         *
         *     `recording` is a file of the workspace; `text` an OpenAPI document.
         */
        MockRequest: {
            /**
             * Mode
             * @default null
             */
            mode: string | null;
            /**
             * Recording
             * @default null
             */
            recording: string | null;
            /**
             * Source
             * @enum {string}
             */
            source: "list" | "recording" | "openapi";
            /**
             * Text
             * @default null
             */
            text: string | null;
        };
        /**
         * ModelEvent
         * @description A request to a model, and what it answered.
         *
         *     `first_s` is the time to the first piece of a stream, `waited_s` what a rate limit cost.
         */
        ModelEvent: {
            error?: components["schemas"]["CallError"] | null;
            /** Fault */
            fault?: string | null;
            /** Fault N */
            fault_n?: number | null;
            /** First S */
            first_s?: number;
            /** Id */
            id: string;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "model";
            /** Model */
            model?: string;
            /** Offered */
            offered?: string[];
            /** Proposed */
            proposed?: components["schemas"]["Proposal"][];
            /** S */
            s?: number | null;
            /** T */
            t: number;
            /** Text */
            text?: string | null;
            usage?: components["schemas"]["Usage"] | null;
            /** Voice */
            voice?: string;
            /** Waited S */
            waited_s?: number;
        };
        /**
         * ModelLine
         * @description A model of the workspace: what stands behind it, and which agents think with it.
         */
        ModelLine: {
            /** Agents */
            agents: string[];
            /** Behind */
            behind: string;
            /**
             * Kind
             * @enum {string}
             */
            kind: "stand-in" | "endpoint" | "recording";
            /** Name */
            name: string;
            /** Secret Set */
            secret_set: boolean | null;
            /** Simulated */
            simulated: boolean;
            source: components["schemas"]["ModelSource"];
        };
        /**
         * ModelList
         * @description Every model, what else one can be made of, and what is wrong with `ferox.yaml`.
         */
        ModelList: {
            /** Models */
            models: components["schemas"]["ModelLine"][];
            /** Problems */
            problems: components["schemas"]["ProblemShape"][];
            /** Recordings */
            recordings: string[];
            /** Stand Ins */
            stand_ins: components["schemas"]["StandInLine"][];
        };
        /**
         * ModelRequest
         * @description What a model is to be; `key` is the value of the secret that it names.
         */
        ModelRequest: {
            /**
             * Key
             * @default null
             */
            key: string | null;
            source: components["schemas"]["ModelSource"];
        };
        /**
         * ModelRequestShape
         * @description One request to a model, whole, and how it differs from the one before of the same voice.
         *
         *     `dropped`: messages of the one before that are not in this; `not_kept`: characters in all.
         */
        ModelRequestShape: {
            /** Answer */
            answer: Json;
            /** Before */
            before: string | null;
            /** Dropped */
            dropped: number;
            /** Error */
            error: string | null;
            /** Id */
            id: string;
            /** Injected */
            injected: string | null;
            /** Interface */
            interface: string;
            /** Messages */
            messages: components["schemas"]["MessageShape"][];
            /** Not Kept */
            not_kept: number;
            /** Parameters */
            parameters: Json;
            /** S */
            s: number | null;
            /** T */
            t: number;
            /** Tools */
            tools: components["schemas"]["ShownToolShape"][];
            /** Tools Added */
            tools_added: string[];
            /** Tools Removed */
            tools_removed: string[];
            /** Usage */
            usage: {
                [key: string]: number;
            } | null;
            /** Voice */
            voice: string | null;
        };
        /**
         * ModelShape
         * @description One of an agent's models: by which name the agent has it, and what stands behind.
         */
        ModelShape: {
            /** Behind */
            behind: string;
            /** Called */
            called: string;
            /** Model */
            model: string;
            /** Simulated */
            simulated: boolean;
        };
        /**
         * ModelSource
         * @description What an agent thinks with: a stand-in (simulated), a compatible endpoint, or a recording.
         */
        ModelSource: {
            /**
             * Api Key
             * @default null
             */
            api_key: string | components["schemas"]["Secret"] | null;
            /**
             * At Once
             * @description Requests to the endpoint side by side, of all trials of a run.
             * @default null
             */
            at_once: number | null;
            /**
             * Base Url
             * @description Of a compatible endpoint.
             * @default null
             */
            base_url: string | null;
            /**
             * Manner
             * @description Which of the stand-in's manners.
             * @default steady
             */
            manner: string;
            /**
             * Miss
             * @description What answers a request that was not recorded; live: `base_url`.
             * @default error
             * @enum {string}
             */
            miss: "error" | "live";
            /**
             * Name
             * @description The endpoint's own name of the model.
             * @default null
             */
            name: string | null;
            /**
             * Per Minute
             * @description Requests to the endpoint in a minute, of all trials of a run.
             * @default null
             */
            per_minute: number | null;
            /**
             * @description What it costs; without it, that is not known.
             * @default null
             */
            price: components["schemas"]["Price"] | null;
            /**
             * Recording
             * @description Path of a recording that is replayed.
             * @default null
             */
            recording: string | null;
            /**
             * Stand In
             * @description Path of a stand-in's file.
             * @default null
             */
            stand_in: string | null;
        };
        /**
         * MovedFile
         * @description Where a file is now, and what is wrong in the workspace that was not before.
         */
        MovedFile: {
            /** Name */
            name: string;
            /** Problems */
            problems: components["schemas"]["ProblemShape"][];
            /** Stamp */
            stamp: string | null;
        };
        /**
         * NewAgentRequest
         * @description Files to write for a new agent.
         */
        NewAgentRequest: {
            /** Files */
            files: components["schemas"]["FileText"][];
        };
        /**
         * NewEvents
         * @description What is new in a trial that runs: its events from `place` on, in place of those that were
         *     there. `long` are the places of events that are too long to be sent whole.
         */
        NewEvents: {
            /** Events */
            events: (components["schemas"]["TurnEvent"] | components["schemas"]["ModelEvent"] | components["schemas"]["CallEvent"] | components["schemas"]["AskEvent"] | components["schemas"]["HoldEvent"] | components["schemas"]["QuestionEvent"] | components["schemas"]["EmbedEvent"] | components["schemas"]["PartialEvent"] | components["schemas"]["ReplyEvent"] | components["schemas"]["EndEvent"])[];
            /** Injected */
            injected: {
                [key: string]: string;
            };
            /** Long */
            long: number[];
            /** Place */
            place: number;
        };
        /**
         * NewMockRequest
         * @description A new mocked server from an OpenAPI document, or from a few words.
         */
        NewMockRequest: {
            /**
             * Answer
             * @default
             */
            answer: string;
            /**
             * Arguments
             * @default
             */
            arguments: string;
            /**
             * Description
             * @default
             */
            description: string;
            /**
             * Openapi
             * @default null
             */
            openapi: string | null;
            /** Server */
            server: string;
            /**
             * Tool
             * @default
             */
            tool: string;
        };
        /**
         * OfferRequest
         * @description What an agent's file is to offer; null: all of every server.
         */
        OfferRequest: {
            /** Offer */
            offer: {
                [key: string]: "all" | string[];
            } | null;
        };
        /**
         * OfferedArgument
         * @description An argument that a tool takes.
         */
        OfferedArgument: {
            /** Choices */
            choices: string[];
            /** Description */
            description: string;
            /** Name */
            name: string;
            /** Required */
            required: boolean;
            /** Type */
            type: string;
        };
        /**
         * OfferedShape
         * @description A server that an agent may use: in which ways, and which of its tools it is offered.
         */
        OfferedShape: {
            /** Left Out */
            left_out: string[];
            /** Mode */
            mode: string;
            /** Modes */
            modes: string[];
            /** Server */
            server: string;
            /** Tools */
            tools: string[];
            /** Unknown */
            unknown: boolean;
        };
        /**
         * OfferedTool
         * @description A tool as the agent was offered it; one of its own as its model was shown it.
         */
        OfferedTool: {
            /** Description */
            description?: string | null;
            /** Input */
            input?: Json;
            /** Name */
            name?: string;
        };
        /**
         * OtherCall
         * @description A call that a model proposes in place of what it said.
         */
        OtherCall: {
            /**
             * Args
             * @default {}
             */
            args: {
                [key: string]: unknown;
            };
            /** Tool */
            tool: string;
        };
        /**
         * OtherWording
         * @description A tool that models are shown with another description.
         */
        OtherWording: {
            /** Description */
            description: string;
            /** Tool */
            tool: string;
        };
        /**
         * OverridesShape
         * @description What differs from the files.
         */
        OverridesShape: {
            /**
             * Faults
             * @default null
             */
            faults: string | null;
            /**
             * Models
             * @default {}
             */
            models: {
                [key: string]: string;
            };
            /**
             * Modes
             * @default {}
             */
            modes: {
                [key: string]: string;
            };
        };
        /**
         * PairShape
         * @description Two tools that look alike.
         */
        PairShape: {
            /** Likeness */
            likeness: number;
            /** One */
            one: string;
            /** Only One */
            only_one: string[];
            /** Only Other */
            only_other: string[];
            /** Other */
            other: string;
        };
        /**
         * PartPicture
         * @description One part; a task without `parts` has one. Several `ways`: any of them is right.
         */
        PartPicture: {
            /** Fresh */
            fresh: boolean;
            /** Line */
            line: number;
            /** Rules */
            rules: components["schemas"]["RulePicture"][];
            /** Say */
            say: string;
            /** Ways */
            ways: components["schemas"]["AlternativePicture"][];
        };
        /**
         * PartialEvent
         * @description What the agent had said of its reply so far.
         */
        PartialEvent: {
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "partial";
            /** T */
            t: number;
            /** Text */
            text?: string | null;
        };
        /**
         * PasteRequest
         * @description Pasted words in which servers are looked for.
         */
        PasteRequest: {
            /** Text */
            text: string;
        };
        /**
         * PastedList
         * @description The servers found.
         */
        PastedList: {
            /** Servers */
            servers: components["schemas"]["PastedShape"][];
        };
        /**
         * PastedShape
         * @description A server found in pasted words: its file, not yet written, and what to know of it.
         */
        PastedShape: {
            /** File */
            file: string;
            /** Name */
            name: string;
            /** Notes */
            notes: string[];
            /** Text */
            text: string;
        };
        /**
         * PendingInputShape
         * @description What a conversation waits for.
         */
        PendingInputShape: {
            /** Args */
            args: {
                [key: string]: unknown;
            } | null;
            /**
             * Kind
             * @enum {string}
             */
            kind: "words" | "approval" | "question" | "held";
            /** Message */
            message: string | null;
            /** Tool */
            tool: string | null;
            /** Url */
            url: string | null;
            /** Wants */
            wants: {
                [key: string]: unknown;
            } | null;
        };
        /**
         * PictureShape
         * @description A task as it is understood.
         */
        PictureShape: {
            /** Answers */
            answers: string[];
            /** Approvals */
            approvals: string[];
            /** Budget */
            budget: string[];
            /** Faults */
            faults: string[];
            /** Given */
            given: string[];
            /** Parts */
            parts: components["schemas"]["PartPicture"][];
            /** Task */
            task: string;
            /** Title */
            title: string | null;
            /** Truths */
            truths: string[];
            /** Whole */
            whole: components["schemas"]["LimitPicture"][];
        };
        /**
         * PieceRequest
         * @description The next piece of its text.
         */
        PieceRequest: {
            /** Text */
            text: string;
        };
        /**
         * PieceShape
         * @description A piece of what is too long to be sent whole: words as they are, all else as JSON.
         */
        PieceShape: {
            /** Start */
            start: number;
            /** Text */
            text: string;
            /** Total */
            total: number;
        };
        /**
         * PlanFileList
         * @description The plans' files, by name.
         */
        PlanFileList: {
            /** Files */
            files: components["schemas"]["PlanFileShape"][];
        };
        /**
         * PlanFileShape
         * @description A plan's file as lists show it; `plan` is None where it does not load. `runs`: the newest
         *     of it.
         */
        PlanFileShape: {
            /** File */
            file: string;
            /** Plan */
            plan: string | null;
            /** Problems */
            problems: number;
            /** Runs */
            runs: number[];
            /** Title */
            title: string | null;
        };
        /**
         * PlanPreview
         * @description What a plan would run.
         *
         *     `first_trials`: of the first look, where it ends once it is decided; else all. `found_drop`: the
         *     smallest drop of the baseline's pass rate that is found in 80 % (0 to 1); None: none is, or
         *     nothing is compared. `rates_known`: of so many of its `tasks` the last run told the pass rate.
         */
        PlanPreview: {
            /** Arms */
            arms: components["schemas"]["PlannedArm"][];
            estimate: components["schemas"]["Estimate"];
            /** First Trials */
            first_trials: number;
            /** Found Drop */
            found_drop: number | null;
            /** Looks */
            looks: number[];
            /** Rates Known */
            rates_known: number;
            /** Tasks */
            tasks: number;
            /** Trials */
            trials: number;
        };
        /**
         * PlanReading
         * @description What a plan would run; `fault`: why that cannot be said.
         */
        PlanReading: {
            /** Fault */
            fault: string | null;
            preview: components["schemas"]["PlanPreview"] | null;
        };
        /**
         * PlanText
         * @description A plan as it stands in an editor.
         */
        PlanText: {
            /**
             * At Once
             * @default 2
             */
            at_once: number;
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * PlannedArm
         * @description An arm that would run. `against`: its baseline, None for a baseline itself.
         */
        PlannedArm: {
            /** Against */
            against: string | null;
            /** Agent */
            agent: string;
            /** Arm */
            arm: string;
        };
        /**
         * Price
         * @description What a model's tokens cost.
         */
        Price: {
            /**
             * Cached In
             * @description For sent tokens that it had kept from before; left out: as `in`.
             * @default null
             */
            cached_in: number | null;
            /**
             * Currency
             * @description By its code of ISO 4217.
             * @default USD
             */
            currency: string;
            /**
             * In
             * @description For tokens sent to the model.
             */
            in: number;
            /**
             * Out
             * @description For tokens that it answered.
             */
            out: number;
            /**
             * Per
             * @description Tokens that these prices are for.
             * @default 1000000
             */
            per: number;
        };
        /**
         * ProbeRequest
         * @description How an agent is probed; `offer` stands in place of what its file offers it.
         */
        ProbeRequest: {
            /**
             * Offer
             * @default null
             */
            offer: {
                [key: string]: "all" | string[];
            } | null;
            /**
             * @default {
             *       "faults": null,
             *       "models": {},
             *       "modes": {}
             *     }
             */
            overrides: components["schemas"]["OverridesShape"];
        };
        /**
         * ProbeShape
         * @description A probe so far; `doing` is null when it is over.
         */
        ProbeShape: {
            /** Doing */
            doing: string | null;
            /** Id */
            id: string;
            /** Log */
            log: string[];
            /** Own Tools */
            own_tools: string[];
            /** Remarks */
            remarks: components["schemas"]["TrialRemark"][];
            /** Reply */
            reply: string | null;
            /** Steps */
            steps: components["schemas"]["StepShape"][];
            /** Tools */
            tools: components["schemas"]["SeenToolShape"][];
            /** Version */
            version: number;
        };
        /**
         * ProblemList
         * @description What is wrong with a text.
         */
        ProblemList: {
            /** Problems */
            problems: components["schemas"]["ProblemShape"][];
        };
        /**
         * ProblemShape
         * @description One error in a workspace's file, or a note: what is more likely not meant so.
         */
        ProblemShape: {
            /** Column */
            column: number;
            /** File */
            file: string;
            /** Line */
            line: number;
            /** Message */
            message: string;
            /**
             * Note
             * @default false
             */
            note: boolean;
        };
        /**
         * Progress
         * @description What the stream of a run sends: its state, changed cells, and the newest calls.
         */
        Progress: {
            /** Calls */
            calls: {
                [key: string]: unknown;
            }[];
            /** Cells */
            cells: components["schemas"]["CellShape"][];
            /** Held */
            held: components["schemas"]["HeldShape"][];
            run: components["schemas"]["RunShape"];
        };
        /**
         * PromptRequest
         * @description A prompt to be filled in.
         */
        PromptRequest: {
            /**
             * Args
             * @default {}
             */
            args: {
                [key: string]: string;
            };
            /** Mode */
            mode: string;
            /** Name */
            name: string;
        };
        /**
         * Proposal
         * @description A tool call that the model proposed.
         */
        Proposal: {
            /** Args */
            args: Json;
            /** Id */
            id: string;
            /** Tool */
            tool: string;
        };
        /**
         * QuestionAnswerRequest
         * @description An answer to a server's question.
         */
        QuestionAnswerRequest: {
            /**
             * Action
             * @enum {string}
             */
            action: "accept" | "decline" | "cancel";
            /**
             * Content
             * @default {}
             */
            content: {
                [key: string]: unknown;
            };
        };
        /**
         * QuestionEvent
         * @description A server's question in the middle of a call, and how it was answered.
         *
         *     `by`: the agent's own client, a person, or the script; `rule` is the place of the script's
         *     entry that answered, and `name` its name; null where none did. `url` is where the question
         *     sends the user.
         */
        QuestionEvent: {
            /**
             * By
             * @enum {string}
             */
            by?: "client" | "person" | "script";
            /** Call */
            call?: string | null;
            /** Data */
            data?: Json;
            /** Did */
            did?: string;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "question";
            /** Name */
            name?: string | null;
            /** Rule */
            rule?: number | null;
            /** S */
            s?: number | null;
            /** Server */
            server?: string;
            /** T */
            t: number;
            /** Text */
            text?: string;
            /** Url */
            url?: string | null;
        };
        /**
         * QuestionShape
         * @description A question of the server's that waits for an answer; `wants` is the schema of it, `url` the
         *     address that it sends the user to, in place of a form.
         */
        QuestionShape: {
            /** Message */
            message: string;
            /** Url */
            url: string | null;
            /** Wants */
            wants: {
                [key: string]: unknown;
            };
        };
        /**
         * ReachRequest
         * @description A server to be reached; `afresh` reconnects.
         */
        ReachRequest: {
            /**
             * Afresh
             * @default false
             */
            afresh: boolean;
            /**
             * Mode
             * @default null
             */
            mode: string | null;
        };
        /**
         * ReadAs
         * @description What agents read of a tool in place of the server's own words.
         */
        ReadAs: {
            /** Description */
            description: string;
            /** Name */
            name: string;
        };
        /**
         * ReadRequest
         * @description A resource to be read.
         */
        ReadRequest: {
            /** Mode */
            mode: string;
            /** Uri */
            uri: string;
        };
        /**
         * RecordingLine
         * @description A recording as lists show it; a captured one lies beside a run's results.
         */
        RecordingLine: {
            /** Calls */
            calls: number;
            /** Captured */
            captured: boolean;
            /** Captured At */
            captured_at: string;
            /** File */
            file: string;
            /** Messages */
            messages: number;
            /**
             * Problem
             * @default null
             */
            problem: string | null;
            /** Server */
            server: string;
            /** Used */
            used: boolean;
        };
        /**
         * RecordingList
         * @description A server's recordings.
         */
        RecordingList: {
            /** Recordings */
            recordings: components["schemas"]["RecordingLine"][];
        };
        /**
         * RecordingShape
         * @description A recording, a page of its exchanges at a time.
         */
        RecordingShape: {
            /** Exchanges */
            exchanges: components["schemas"]["ExchangeShape"][];
            /** File */
            file: string;
            /** Header */
            header: {
                [key: string]: unknown;
            };
            /** Left Open */
            left_open: number[];
            /** Messages */
            messages: number;
            /** Sessions */
            sessions: number;
            /** Start */
            start: number;
            /** Total */
            total: number;
        };
        /**
         * RejudgeRequest
         * @description Expectations to apply to stored trials.
         */
        RejudgeRequest: {
            /** Name */
            name: string;
            /** Task */
            task: string;
            /** Text */
            text: string;
        };
        /**
         * RejudgedTrialShape
         * @description A stored trial under the expectations as they stand in the editor.
         */
        RejudgedTrialShape: {
            /** Agent */
            agent: string;
            /** Changed Checks */
            changed_checks: components["schemas"]["ChangedCheckShape"][];
            /** Id */
            id: number;
            /** Now */
            now: string;
            /** Number */
            number: number;
            /** Run */
            run: number;
            /** Was */
            was: string;
        };
        /**
         * RejudgedTrials
         * @description The newest stored trials of the task. `more`: there are older ones.
         */
        RejudgedTrials: {
            /** More */
            more: boolean;
            /** Trials */
            trials: components["schemas"]["RejudgedTrialShape"][];
        };
        /**
         * RelayList
         * @description The relays of this process.
         */
        RelayList: {
            /** Relays */
            relays: components["schemas"]["RelayShape"][];
        };
        /**
         * RelayRequest
         * @description A way to a server before which a relay is to stand.
         */
        RelayRequest: {
            /** Mode */
            mode: string;
        };
        /**
         * RelayShape
         * @description A relay that stands: where clients find it, and the newest of what passed.
         */
        RelayShape: {
            /** Address */
            address: string;
            /** Calls */
            calls: components["schemas"]["CallLine"][];
            /** Id */
            id: string;
            /** Messages */
            messages: number;
            /** Mode */
            mode: string;
            /** Remarks */
            remarks: string[];
            /** Server */
            server: string;
            /** Sessions */
            sessions: number;
            /** Snippets */
            snippets: components["schemas"]["SnippetShape"][];
            /**
             * State
             * @enum {string}
             */
            state: "standing" | "stopped";
        };
        /**
         * RemarkShape
         * @description Something in a definition that makes agents fail.
         */
        RemarkShape: {
            /** Message */
            message: string;
            /** Tool */
            tool: string;
        };
        /**
         * RenameRequest
         * @description A file's new name: a bare one, such as `pilots`, for `servers/pilots.yaml`.
         */
        RenameRequest: {
            /** Name */
            name: string;
            /** Stamp */
            stamp: string;
            /** To */
            to: string;
        };
        /**
         * RepeatedCallShape
         * @description A recorded call, asked again.
         */
        RepeatedCallShape: {
            /** Args */
            args: {
                [key: string]: unknown;
            };
            /** Kind */
            kind: string;
            /** Number */
            number: number;
            /** Reason */
            reason: string | null;
            /** Tool */
            tool: string;
            /** What */
            what: components["schemas"]["DifferenceShape"][];
        };
        /**
         * ReplayDifference
         * @description One thing that the agent does otherwise than it did: at which event of the stored trial,
         *     and both sides, folded.
         */
        ReplayDifference: {
            /** At */
            at: string;
            /** Lines */
            lines: string[];
            /** What */
            what: string;
        };
        /**
         * ReplayGroup
         * @description Trials with one verdict in which the same differs first; `example`: of the first of them.
         */
        ReplayGroup: {
            /** Count */
            count: number;
            example: components["schemas"]["ReplayDifference"] | null;
            /** First */
            first: string;
            /** Trials */
            trials: components["schemas"]["ReplayedName"][];
            /**
             * Verdict
             * @enum {string}
             */
            verdict: "same" | "other words" | "parted" | "not replayed";
        };
        /**
         * ReplayList
         * @description The replays of a run, the newest first.
         */
        ReplayList: {
            /** Replays */
            replays: components["schemas"]["ReplayShape"][];
        };
        /**
         * ReplayRequest
         * @description Which trials of a run are played back: all, or these, or those of these agents.
         */
        ReplayRequest: {
            /**
             * Agents
             * @default []
             */
            agents: string[];
            /**
             * Trials
             * @default []
             */
            trials: number[];
        };
        /**
         * ReplayShape
         * @description A replay, how far it is, and what it came to so far. `unheld`: trials whose agent asked no
         *     model at Ferox, so that what it thinks with was not held still.
         */
        ReplayShape: {
            /** At */
            at: number;
            /** Done */
            done: number;
            /** Groups */
            groups: components["schemas"]["ReplayGroup"][];
            /** Id */
            id: number;
            /** Message */
            message: string | null;
            /** Run */
            run: number;
            /** Sentence */
            sentence: string;
            /**
             * State
             * @enum {string}
             */
            state: "waiting" | "running" | "done" | "stopped" | "interrupted";
            /** Total */
            total: number;
            /** Unheld */
            unheld: number;
        };
        /**
         * ReplayedName
         * @description A trial that was played back.
         */
        ReplayedName: {
            /** Agent */
            agent: string;
            /** Number */
            number: number;
            /** Suite */
            suite: string;
            /** Task */
            task: string;
            /** Trial */
            trial: number;
        };
        /**
         * ReplayedShape
         * @description What became of one trial when it was last played back.
         */
        ReplayedShape: {
            /** At */
            at: number;
            /** Differences */
            differences: components["schemas"]["ReplayDifference"][];
            parted: components["schemas"]["ReplayDifference"] | null;
            /** Reason */
            reason: string | null;
            /** Replay */
            replay: number;
            /**
             * Verdict
             * @enum {string}
             */
            verdict: "same" | "other words" | "parted" | "not replayed";
        };
        /**
         * ReplyEvent
         * @description The agent's reply; `of` is the type of what it returned, where that was not text.
         */
        ReplyEvent: {
            /** Data */
            data?: Json;
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "reply";
            /** Of */
            of?: string;
            /** T */
            t: number;
            /** Text */
            text?: string | null;
        };
        /**
         * ReportText
         * @description A report, and the name of a file for it.
         */
        ReportText: {
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * RescoreRequest
         * @description Which stored trials to score again: of a suite's tasks.
         */
        RescoreRequest: {
            /** Suite */
            suite: string;
            /**
             * Tasks
             * @default []
             */
            tasks: string[];
        };
        /**
         * RescoreShape
         * @description How far scoring again is.
         */
        RescoreShape: {
            /** Changed */
            changed: number;
            /** Done */
            done: number;
            /** Left */
            left: number;
        };
        /**
         * ResultLine
         * @description One of a trial's results, under the script that gave it. `at`: seconds since the epoch.
         */
        ResultLine: {
            /** At */
            at: number;
            /** First */
            first: boolean;
            /** Id */
            id: number;
            /** Script */
            script: string;
            /** Verdict */
            verdict: string;
        };
        /**
         * RewordBasis
         * @description Two tools, the agents that took one for the other, and tasks, `suite/task`: those that either
         *     tool touches, and as many that neither does, so that harm elsewhere would show.
         */
        RewordBasis: {
            /** Agents */
            agents: string[];
            chosen: components["schemas"]["WordedTool"];
            expected: components["schemas"]["WordedTool"];
            /** Touched */
            touched: string[];
            /** Untouched */
            untouched: string[];
        };
        /**
         * RulePicture
         * @description A rule of the scripted user.
         */
        RulePicture: {
            /** At Most */
            at_most: number | null;
            /** Grants */
            grants: string | null;
            /** Line */
            line: number;
            /** Matches */
            matches: string;
            /** Say */
            say: string;
        };
        /**
         * RuleShape
         * @description A rule of the scripted user, as the conversation shows who answered.
         */
        RuleShape: {
            /** Grants */
            grants: string | null;
            /** Matches */
            matches: string;
        };
        /**
         * RunList
         * @description Runs, the newest first.
         */
        RunList: {
            /** Runs */
            runs: components["schemas"]["RunShape"][];
        };
        /**
         * RunRequest
         * @description What to run.
         */
        RunRequest: {
            /** Agents */
            agents: string[];
            /**
             * At Once
             * @default 2
             */
            at_once: number;
            /** @default null */
            hold: components["schemas"]["HoldShape"] | null;
            /**
             * On
             * @default null
             */
            on: string | null;
            /**
             * @default {
             *       "faults": null,
             *       "models": {},
             *       "modes": {}
             *     }
             */
            overrides: components["schemas"]["OverridesShape"];
            /**
             * Repeats
             * @default 3
             */
            repeats: number;
            /** Suites */
            suites: string[];
            /**
             * Tasks
             * @default []
             */
            tasks: string[];
        };
        /**
         * RunShape
         * @description A run and how far it is. Times are seconds since the epoch. `origin`: where its trials are
         *     from, if not from here.
         */
        RunShape: {
            /** At Once */
            at_once: number;
            /** Created At */
            created_at: number;
            /** Done */
            done: number;
            /** Errors */
            errors: number;
            /** Finished At */
            finished_at: number | null;
            /** Fork Of */
            fork_of: number | null;
            hold: components["schemas"]["HoldShape"] | null;
            /** Id */
            id: number;
            /** Judged */
            judged: number;
            /** Message */
            message: string | null;
            /** On */
            on: string | null;
            /** Origin */
            origin: string | null;
            /** Otherwise */
            otherwise: string;
            /** Passes */
            passes: number;
            /** Running */
            running: number;
            /** Seconds Left */
            seconds_left: number | null;
            /** Started At */
            started_at: number | null;
            /**
             * State
             * @enum {string}
             */
            state: "waiting" | "running" | "done" | "stopped" | "interrupted";
            /** Title */
            title: string;
            /** Total */
            total: number;
        };
        /**
         * SayRequest
         * @description The user's next words.
         */
        SayRequest: {
            /** Text */
            text: string;
        };
        /**
         * ScriptShape
         * @description The script that a result was scored under; `before`: the run's own, if it is another.
         */
        ScriptShape: {
            /** Before */
            before: {
                [key: string]: unknown;
            } | null;
            /** Hash */
            hash: string;
            /** Task */
            task: {
                [key: string]: unknown;
            };
        };
        /**
         * Secret
         * @description A value read from the environment when it is needed and never stored.
         */
        Secret: {
            /**
             * Prefix
             * @default
             */
            prefix: string;
            /** Secret */
            secret: string;
        };
        /**
         * SecretLine
         * @description A secret: where its value comes from, which files name it, and where it may go.
         *
         *     `not_allowed`: Ferox's environment has a variable of that name, which nobody allowed to be read.
         */
        SecretLine: {
            /** May Go To */
            may_go_to: string[];
            /** Name */
            name: string;
            /** Named In */
            named_in: string[];
            /**
             * State
             * @enum {string}
             */
            state: "env_file" | "environment" | "not_allowed" | "not_set";
        };
        /**
         * SecretList
         * @description Every secret that files name or `.env` holds, and the path of that file.
         */
        SecretList: {
            /** Env File */
            env_file: string;
            /** Secrets */
            secrets: components["schemas"]["SecretLine"][];
        };
        /**
         * SecretValue
         * @description A secret's value, on its way into `.env`.
         */
        SecretValue: {
            /** Value */
            value: string;
        };
        /**
         * SeenFile
         * @description A file as it was read: `stamp` tells whether it changed on disk since.
         */
        SeenFile: {
            /** Name */
            name: string;
            /** Stamp */
            stamp: string;
        };
        /**
         * SeenToolShape
         * @description A tool that was offered, and by which name the model saw it, if it did.
         */
        SeenToolShape: {
            /** Address */
            address: string;
            /** As Name */
            as_name: string | null;
            /** Rewritten */
            rewritten: boolean;
        };
        /**
         * ServerLine
         * @description A tool server as lists show it. A file that does not load has problems and no modes.
         */
        ServerLine: {
            /** File */
            file: string;
            /** Modes */
            modes: string[];
            /**
             * Problems
             * @default []
             */
            problems: components["schemas"]["ProblemShape"][];
            /** Server */
            server: string;
            /** Title */
            title: string | null;
        };
        /**
         * ServerList
         * @description The workspace's tool servers.
         */
        ServerList: {
            /** Servers */
            servers: components["schemas"]["ServerLine"][];
        };
        /**
         * ServerModes
         * @description A server, and in which ways it can be had.
         */
        ServerModes: {
            /** Modes */
            modes: string[];
            /** Server */
            server: string;
        };
        /**
         * ServerShape
         * @description What a server offers, or why it cannot be reached.
         *
         *     `tools` is the first page; resources and prompts are as the protocol writes them, and
         *     `more_resources` are left out. `tokens` is what all tools take of the context, estimated.
         *     `changes` are since the list was last seen, `seen_before` in seconds since the epoch.
         */
        ServerShape: {
            /** Changes */
            changes: components["schemas"]["ListChangeShape"][];
            diagnosis: components["schemas"]["DiagnosisShape"] | null;
            /** File */
            file: string;
            /** Instructions */
            instructions: string | null;
            /** Mode */
            mode: string;
            /** Modes */
            modes: string[];
            /** More Resources */
            more_resources: number;
            /** Prompts */
            prompts: {
                [key: string]: unknown;
            }[];
            /** Protocol */
            protocol: string | null;
            /** Reached */
            reached: string | null;
            /** Recording */
            recording: string | null;
            /** Remarks */
            remarks: number;
            /** Resources */
            resources: {
                [key: string]: unknown;
            }[];
            /** Seen Before */
            seen_before: number | null;
            /** Server */
            server: string;
            /** Server Info */
            server_info: {
                [key: string]: unknown;
            } | null;
            /** Started */
            started: boolean;
            /** Title */
            title: string | null;
            /** Tokens */
            tokens: number;
            tools: components["schemas"]["ToolPage"];
            /** Variables */
            variables: components["schemas"]["VariableShape"][];
        };
        /**
         * SessionDraftRequest
         * @description A recorded session to make a task from.
         */
        SessionDraftRequest: {
            /** File */
            file: string;
            /** Recording */
            recording: string;
            /** Session */
            session: number;
            /** Task */
            task: string;
        };
        /**
         * SetupDifference
         * @description One thing that differs. `about`: the suite, server, tool or model; None: a side has none.
         */
        SetupDifference: {
            /** A */
            a: string | null;
            /** About */
            about: string;
            /** B */
            b: string | null;
            /** Part */
            part: string;
        };
        /**
         * SetupDifferences
         * @description What differs in the set-up of two sides.
         */
        SetupDifferences: {
            /** Parts */
            parts: components["schemas"]["SetupDifference"][];
        };
        /**
         * SetupShape
         * @description What a trial ran with.
         */
        SetupShape: {
            before: components["schemas"]["EarlierInstructions"] | null;
            /** Clock */
            clock: string;
            /** Faults */
            faults: string[];
            /** Ferox */
            ferox: string;
            /** Instructions */
            instructions: string;
            /** Link */
            link: string;
            /** Lost */
            lost: string[];
            /** Models */
            models: components["schemas"]["ThinksWith"][];
            /** Modes */
            modes: {
                [key: string]: string;
            };
            /** On */
            on: string | null;
            /** Otherwise */
            otherwise: string;
            /** Params */
            params: {
                [key: string]: unknown;
            };
            /** Python */
            python: string;
            /** Steps */
            steps: string[];
            /** Title */
            title: string | null;
            /** Wording */
            wording: {
                [key: string]: {
                    [key: string]: unknown;
                };
            };
            /** Zone */
            zone: string;
        };
        /**
         * ShownToolShape
         * @description A tool of a request, in its place. `differs`: name, description or input, where they are
         *     not the server's own; `served` is then what the server offers.
         */
        ShownToolShape: {
            /** Address */
            address: string;
            /** Description */
            description: string | null;
            /** Differs */
            differs: string[];
            /** Input */
            input: Json;
            /** Name */
            name: string;
            /** Not Kept */
            not_kept: number | null;
            /** Served */
            served: {
                [key: string]: unknown;
            } | null;
        };
        /**
         * ShrinkPiece
         * @description One thing that can be left out, of which kind, and whether it is needed.
         */
        ShrinkPiece: {
            /** Kept */
            kept: boolean;
            /** Kind */
            kind: string;
            /** Words */
            words: string;
        };
        /**
         * ShrinkRequest
         * @description Which failed check has to fail (left out: the first), in how many of so many repeats, and how
         *     many trials may be carried out in all.
         */
        ShrinkRequest: {
            /**
             * At Least
             * @default 3
             */
            at_least: number;
            /**
             * Budget
             * @default 100
             */
            budget: number;
            /**
             * Check
             * @default null
             */
            check: string | null;
            /**
             * Repeats
             * @default 3
             */
            repeats: number;
        };
        /**
         * ShrinkShape
         * @description How far a trial is shrunk. `state`: running, done, stopped, budget, steady or failed.
         */
        ShrinkShape: {
            /** Budget */
            budget: number;
            /** Check */
            check: string;
            /** Failed */
            failed: number;
            /** Id */
            id: string;
            /** Message */
            message: string | null;
            /** Of */
            of: number;
            /** Pieces */
            pieces: components["schemas"]["ShrinkPiece"][];
            /** Sentence */
            sentence: string;
            /** State */
            state: string;
            /** Task */
            task: string;
            /** Trial */
            trial: number;
            /** Tried */
            tried: number;
        };
        /**
         * SideCounts
         * @description A side's trials of a task: passes of `n` judged ones, those that could not run; all of them
         *     by number, and those that failed.
         */
        SideCounts: {
            /** Errors */
            errors: number;
            /** Failed */
            failed: number[];
            /** N */
            n: number;
            /** Passes */
            passes: number;
            /** Trials */
            trials: number[];
        };
        /**
         * SnippetShape
         * @description Something to paste into a client's configuration.
         */
        SnippetShape: {
            /** Text */
            text: string;
            /** Title */
            title: string;
        };
        /**
         * StampShape
         * @description What tells one state of a file from another; None if it is not there.
         */
        StampShape: {
            /** Stamp */
            stamp: string | null;
        };
        /**
         * StandInLine
         * @description A stand-in's file, and the manners that a model may have of it.
         */
        StandInLine: {
            /** File */
            file: string;
            /** Manners */
            manners: string[];
        };
        /**
         * StepOutcome
         * @description What came of preparing or restoring a server: a tool's address or a command, and its
         *     result or error.
         */
        StepOutcome: {
            error: components["schemas"]["CallError"] | null;
            /** Result */
            result: Json;
            /** S */
            s: number;
            /** What */
            what: string;
        };
        /**
         * StepShape
         * @description One thing that was looked at; `ok` null is a doubt.
         */
        StepShape: {
            /** About */
            about: string;
            /** Advice */
            advice: string;
            /** Message */
            message: string;
            /** Ok */
            ok: boolean | null;
        };
        /**
         * SuiteFileList
         * @description The files of suites, and the servers that a new one may use.
         */
        SuiteFileList: {
            /** Files */
            files: components["schemas"]["SuiteFileShape"][];
            /** Servers */
            servers: string[];
        };
        /**
         * SuiteFileShape
         * @description A suite's file as the list shows it. `suite` is None if it does not load.
         */
        SuiteFileShape: {
            /** File */
            file: string;
            /** Problems */
            problems: number;
            /** Suite */
            suite: string | null;
            /** Tasks */
            tasks: string[];
            /** Title */
            title: string | null;
        };
        /**
         * SuiteReading
         * @description What a text says: its tasks, and the picture of the one that the cursor is in.
         *
         *     `fault`: it does not load, so there is no picture.
         */
        SuiteReading: {
            /** Fault */
            fault: string | null;
            picture: components["schemas"]["PictureShape"] | null;
            /** Tasks */
            tasks: components["schemas"]["TaskPlace"][];
        };
        /**
         * SuiteShape
         * @description A suite and its tasks, in the file's order.
         */
        SuiteShape: {
            /** Suite */
            suite: string;
            /** Tasks */
            tasks: components["schemas"]["TaskShape"][];
            /** Title */
            title: string | null;
        };
        /**
         * SuiteText
         * @description A suite's text as it stands in the editor, and the line of the cursor.
         */
        SuiteText: {
            /**
             * Line
             * @default 1
             */
            line: number;
            /** Name */
            name: string;
            /** Text */
            text: string;
        };
        /**
         * SweepLine
         * @description The arms that differ in decoys alone, the fewest first.
         *
         *     `worse_from`: the first step at which choice is worse than at the first, by the interval on
         *     these tasks; None: at none.
         */
        SweepLine: {
            /** Arms */
            arms: string[];
            /** Name */
            name: string;
            /** Steps */
            steps: number[];
            /** Worse From */
            worse_from: number | null;
        };
        /**
         * TaskPlace
         * @description A task in a text: its lines, from 1.
         */
        TaskPlace: {
            /** Last */
            last: number;
            /** Line */
            line: number;
            /** Tags */
            tags: string[];
            /** Task */
            task: string;
            /** Title */
            title: string | null;
        };
        /**
         * TaskReport
         * @description A task on both sides. `agent` stands where whole runs of several agents are compared.
         */
        TaskReport: {
            a: components["schemas"]["SideCounts"];
            /** Agent */
            agent: string | null;
            b: components["schemas"]["SideCounts"];
            /** Difference */
            difference: number | null;
            /** Suite */
            suite: string;
            /** Task */
            task: string;
            /** Tipped */
            tipped: string | null;
        };
        /**
         * TaskShape
         * @description A task as lists show it.
         */
        TaskShape: {
            /** Tags */
            tags: string[];
            /** Task */
            task: string;
            /** Title */
            title: string | null;
        };
        /**
         * TextShape
         * @description A text.
         */
        TextShape: {
            /** Text */
            text: string;
        };
        /**
         * ThinksWith
         * @description A model of an agent, by the agent's name for it.
         */
        ThinksWith: {
            /** Called */
            called: string;
            /** Model */
            model: string;
            /** Recorded */
            recorded: boolean;
            /** Simulated */
            simulated: boolean;
        };
        /**
         * TokenCounts
         * @description Tokens over all requests to models.
         */
        TokenCounts: {
            /** Cached */
            cached?: number;
            /** Input */
            input: number;
            /** Output */
            output: number;
        };
        /**
         * TokenPrice
         * @description What `per` tokens of a model cost: sent, sent and kept from before, and answered; `free`:
         *     nothing is paid.
         */
        TokenPrice: {
            /** Answered */
            answered?: number;
            /** Cached */
            cached?: number;
            /** Currency */
            currency?: string;
            /** Free */
            free?: boolean;
            /** Per */
            per?: number;
            /** Sent */
            sent?: number;
        };
        /**
         * ToolLine
         * @description A tool as lists show it, its description cut short. `cost` is in tokens, estimated.
         */
        ToolLine: {
            /** Cost */
            cost: number;
            /** Description */
            description: string;
            /** Name */
            name: string;
            /** Optional */
            optional: string[];
            reads: components["schemas"]["ReadAs"] | null;
            /** Remarked */
            remarked: boolean;
            /** Required */
            required: string[];
        };
        /**
         * ToolPage
         * @description Some of a server's tools: those from `start` of the `total` that fit the search.
         */
        ToolPage: {
            /** Start */
            start: number;
            /** Tools */
            tools: components["schemas"]["ToolLine"][];
            /** Total */
            total: number;
        };
        /**
         * ToolShape
         * @description A tool's definition as the server gives it, and as agents read it if that differs.
         *
         *     `arguments` is the schema that a form can be made of: what is broken in it is left out.
         */
        ToolShape: {
            /** Arguments */
            arguments: {
                [key: string]: unknown;
            };
            /** Definition */
            definition: {
                [key: string]: unknown;
            };
            /** Reads */
            reads: {
                [key: string]: unknown;
            } | null;
        };
        /**
         * Trace
         * @description A trial, whole. Times are seconds from its start.
         */
        Trace: {
            /** Agent */
            agent?: string;
            /** Clock */
            clock?: string;
            /** Events */
            events: (components["schemas"]["TurnEvent"] | components["schemas"]["ModelEvent"] | components["schemas"]["CallEvent"] | components["schemas"]["AskEvent"] | components["schemas"]["HoldEvent"] | components["schemas"]["QuestionEvent"] | components["schemas"]["EmbedEvent"] | components["schemas"]["PartialEvent"] | components["schemas"]["ReplyEvent"] | components["schemas"]["EndEvent"])[];
            /**
             * Ferox Trace
             * @constant
             */
            ferox_trace?: 1;
            fork?: components["schemas"]["ForkFacts"];
            /** Instructions */
            instructions?: string;
            link?: components["schemas"]["LinkFacts"];
            /** Mended */
            mended?: number;
            /** Model Seam */
            model_seam?: boolean;
            /** Modes */
            modes?: {
                [key: string]: string;
            };
            /** Not Seen */
            not_seen?: ("calls" | "proposals" | "offers" | "arguments" | "results" | "outcomes" | "times" | "turns" | "words" | "reply" | "data" | "instructions" | "approvals" | "rules" | "truth" | "usage")[];
            /** Own Seen */
            own_seen?: boolean;
            /** Prepared */
            prepared?: components["schemas"]["StepOutcome"][];
            /** Prices */
            prices?: {
                [key: string]: components["schemas"]["TokenPrice"];
            };
            /** Reply Tools */
            reply_tools?: string[];
            /** Restored */
            restored?: components["schemas"]["StepOutcome"][];
            /** Seen By Model */
            seen_by_model?: {
                [key: string]: components["schemas"]["OfferedTool"];
            };
            /** State */
            state?: {
                [key: string]: unknown;
            };
            /** State Before */
            state_before?: {
                [key: string]: unknown;
            };
            /** Suite */
            suite?: string;
            /** Task */
            task?: string;
            /** Tools */
            tools?: {
                [key: string]: components["schemas"]["OfferedTool"];
            };
            /** Traffic */
            traffic?: {
                [key: string]: components["schemas"]["Traffic"];
            };
            /** Trial */
            trial?: number;
            /** Truth */
            truth?: {
                [key: string]: components["schemas"]["TruthValue"];
            };
            /** Truth Before */
            truth_before?: {
                [key: string]: components["schemas"]["TruthValue"];
            };
            /** Voices */
            voices?: {
                [key: string]: components["schemas"]["Voice"];
            };
            /** Without */
            without?: {
                [key: string]: string;
            };
            /** Zone */
            zone?: string;
        };
        /**
         * Traffic
         * @description What passed at a tool seam besides calls: sessions (of the protocols that have them), how
         *     many of them the agent never closed, listings of the tools, the newest protocol version
         *     spoken, and the client's own name.
         */
        Traffic: {
            /** Client */
            client: string | null;
            /** Left Open */
            left_open?: number;
            /** Lists */
            lists: number;
            /** Protocol */
            protocol: string | null;
            /** Sessions */
            sessions: number;
        };
        /**
         * TrialLine
         * @description A trial as lists show it.
         */
        TrialLine: {
            /** Agent */
            agent: string;
            /** Calls */
            calls: number;
            /** Id */
            id: number;
            /**
             * Mark
             * @default null
             */
            mark: string | null;
            /**
             * Noted
             * @default false
             */
            noted: boolean;
            /** Number */
            number: number;
            /** Reason */
            reason: string | null;
            /** Run */
            run: number;
            /** State */
            state: string;
            /** Suite */
            suite: string;
            /** Task */
            task: string;
            /** Turn Ms */
            turn_ms: number | null;
            /** Verdict */
            verdict: string | null;
            /**
             * Went Wrong
             * @default null
             */
            went_wrong: string | null;
        };
        /**
         * TrialList
         * @description Trials of a cell, by number.
         */
        TrialList: {
            /** Trials */
            trials: components["schemas"]["TrialLine"][];
        };
        /**
         * TrialRemark
         * @description One thing worth knowing.
         */
        TrialRemark: {
            /** Kind */
            kind: string;
            /** Text */
            text: string;
        };
        /**
         * TrialShape
         * @description Everything about one trial. While it runs there is no result yet.
         */
        TrialShape: {
            agent: components["schemas"]["AgentShape"];
            /** Expected */
            expected: components["schemas"]["ExpectedShape"][];
            /** Injected */
            injected: {
                [key: string]: string;
            };
            /** Long */
            long: number[];
            mark: components["schemas"]["MarkShape"] | null;
            /** Mentions */
            mentions: components["schemas"]["MentionShape"][];
            /** Near */
            near: {
                [key: string]: number | null;
            };
            /** Order */
            order: string[][];
            /** Planted */
            planted: {
                [key: string]: string;
            };
            /** Remarks */
            remarks: components["schemas"]["TrialRemark"][];
            /** Result */
            result: {
                /** Agent */
                agent: string;
                /** Alternatives */
                alternatives: (number | null)[];
                /** Attempts */
                attempts: {
                    [key: string]: string[];
                };
                /** Checks */
                checks: components["schemas"]["Check"][];
                /** Choices */
                choices?: {
                    [key: string]: {
                        [key: string]: number;
                    };
                };
                /** Confusions */
                confusions: components["schemas"]["Confusion"][];
                /** Extra */
                extra: string[];
                /** Judged */
                judged: boolean;
                latency: components["schemas"]["LatencyFigures"];
                /** Matched */
                matched: {
                    [key: string]: string[];
                };
                /** Missing */
                missing: components["schemas"]["Missing"][];
                /** Reason */
                reason: string | null;
                /** Scores */
                scores: {
                    [key: string]: number | null;
                };
                /** Suite */
                suite: string;
                /** Task */
                task: string;
                tokens: components["schemas"]["TokenCounts"] | null;
                /** Trial */
                trial: number;
                /**
                 * Verdict
                 * @enum {string}
                 */
                verdict: "pass" | "fail" | "error";
                went_wrong: components["schemas"]["WentWrong"] | null;
            } | null;
            /** Results */
            results: components["schemas"]["ResultLine"][];
            /** Rules */
            rules: components["schemas"]["RuleShape"][][];
            run: components["schemas"]["RunShape"];
            /** Says */
            says: string[];
            script: components["schemas"]["ScriptShape"];
            setup: components["schemas"]["SetupShape"];
            /** Shown */
            shown: number | null;
            /** Title */
            title: string | null;
            trace: components["schemas"]["Trace"];
            trial: components["schemas"]["TrialLine"];
            /** Values */
            values: {
                [key: string]: components["schemas"]["ValueShape"][];
            };
            /** Ways */
            ways: number[];
        };
        /**
         * TruthValue
         * @description What Ferox looked up.
         */
        TruthValue: {
            error?: components["schemas"]["CallError"] | null;
            /** Result */
            result: Json;
        };
        /**
         * TurnEvent
         * @description The user said something; `rule` is the place of the rule that gave the words.
         */
        TurnEvent: {
            /**
             * @description discriminator enum property added by openapi-typescript
             * @enum {string}
             */
            kind: "turn";
            /** Part */
            part?: number;
            /** Rule */
            rule?: number | null;
            /** T */
            t: number;
            /** Text */
            text?: string | null;
        };
        /**
         * Usage
         * @description Tokens, as the endpoint reported them; a request for embeddings has no output.
         */
        Usage: {
            /** Cached */
            cached?: number;
            /** Input */
            input: number;
            /** Output */
            output?: number;
        };
        /**
         * ValueShape
         * @description A value of a reply, and where it is from: calls by their ids, `user`, `instructions` or
         *     `clock`.
         */
        ValueShape: {
            /**
             * Chance
             * @default null
             */
            chance: number | null;
            /** How */
            how: string | null;
            /** Kind */
            kind: string;
            /** Origin */
            origin: string;
            /** Sources */
            sources: string[];
            /** Start */
            start: number;
            /** Text */
            text: string;
        };
        /**
         * VariableShape
         * @description A variable that a server gets; secrets are masked.
         */
        VariableShape: {
            /** Name */
            name: string;
            /** Origin */
            origin: string;
            /** Shown */
            shown: string;
        };
        /**
         * Voice
         * @description A part of the agent that speaks to a model: the start of its instructions, and the names
         *     of its tools as the model saw them.
         */
        Voice: {
            /** Instructions */
            instructions: string;
            /** Tools */
            tools: string[];
        };
        /**
         * WentWrong
         * @description What went wrong first in a trial that failed, and what followed, in a sentence.
         *
         *     `call`: the call or the proposal where it shows, if it shows at one; `expected`: the expected
         *     call that is missing, if one is.
         */
        WentWrong: {
            /** Call */
            call: string | null;
            /** Expected */
            expected: string | null;
            /** Message */
            message: string;
        };
        /**
         * WireShape
         * @description The raw messages of a call.
         */
        WireShape: {
            /** Answer */
            answer: string;
            /** Request */
            request: string;
        };
        /**
         * WordedTool
         * @description A tool as an agent read it. `address`: `server/tool`, by the server's own name.
         */
        WordedTool: {
            /** Address */
            address: string;
            /** Description */
            description: string;
            /** Name */
            name: string;
        };
        /**
         * WordingRequest
         * @description What the agent reads of a tool instead of the server's own words; None takes it back.
         */
        WordingRequest: {
            /** Tool */
            tool: string;
            /** Wording */
            wording: {
                [key: string]: unknown;
            } | null;
        };
        /**
         * WordingShape
         * @description How a server's definitions read: remarks, and which tools are like each other.
         *
         *     `order` and `matrix` hold the most alike of all `tools`; `alike` counts all pairs.
         */
        WordingShape: {
            /** Alike */
            alike: number;
            /** Matrix */
            matrix: number[][];
            /** More Remarks */
            more_remarks: number;
            /** Order */
            order: string[];
            /** Pairs */
            pairs: components["schemas"]["PairShape"][];
            /** Remarks */
            remarks: components["schemas"]["RemarkShape"][];
            /** Tools */
            tools: number;
        };
        /**
         * WordsRequest
         * @description A tool in a few words, to be added to a server's mock.
         */
        WordsRequest: {
            /**
             * Answer
             * @default
             */
            answer: string;
            /**
             * Arguments
             * @default
             */
            arguments: string;
            /**
             * Description
             * @default
             */
            description: string;
            /** Tool */
            tool: string;
        };
        /**
         * WorkspaceShape
         * @description The workspace as it stands on disk now.
         */
        WorkspaceShape: {
            /** Agents */
            agents: components["schemas"]["AgentShape"][];
            /** At Once */
            at_once: number;
            /**
             * Clusters
             * @default []
             */
            clusters: string[];
            /**
             * Fault Sets
             * @default []
             */
            fault_sets: string[];
            /**
             * Missing
             * @default false
             */
            missing: boolean;
            /**
             * Models
             * @default []
             */
            models: string[];
            /** Name */
            name: string;
            /**
             * Plans
             * @default []
             */
            plans: string[];
            /** Problems */
            problems: components["schemas"]["ProblemShape"][];
            /**
             * Servers
             * @default []
             */
            servers: components["schemas"]["ServerModes"][];
            /** Suites */
            suites: components["schemas"]["SuiteShape"][];
            /** Trials */
            trials: number;
        };
    };
    responses: never;
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export interface operations {
    agents_list_agents_api_agents_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["AgentList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    agents_new_agent_api_agents_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["NewAgentRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["AgentList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    agents_agent_detail_api_agents__agent__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                agent: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["AgentDetail"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_start_conversation_api_agents__agent__conversations_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                agent: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ConversationRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    agents_change_offer_api_agents__agent__offer_put: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                agent: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["OfferRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["AgentDetail"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    probing_start_probe_api_agents__agent__probe_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                agent: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ProbeRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ProbeShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    beginning_beginning_kinds_api_beginning_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BeginningKinds"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    beginning_begin_workspace_api_beginning_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["BeginningRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BegunWorkspace"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    bringings_begin_bringing_api_bringings_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["BringingRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BringingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    bringings_bringing_now_api_bringings__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BringingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    bringings_send_piece_api_bringings__number__pieces_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["PieceRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BringingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    bringings_start_bringing_api_bringings__number__start_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["BringingStart"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BringingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    bringings_stop_bringing_api_bringings__number__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BringingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_call_now_api_calls__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["CallByHandShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_answer_question_api_calls__number__answer_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["AnswerRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["CallByHandShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_cancel_call_api_calls__number__cancel_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["CallByHandShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    comparison_compare_two_api_compare_get: {
        parameters: {
            query: {
                a: string;
                b: string;
                same_within?: number;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ComparisonReport"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    reports_comparison_report_api_compare_report_get: {
        parameters: {
            query: {
                a: string;
                b: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReportText"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    comparison_comparable_runs_api_compare_runs_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ComparableRuns"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    comparison_compare_setups_api_compare_setup_get: {
        parameters: {
            query: {
                a: string;
                b: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SetupDifferences"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    agents_list_connections_api_connections_get: {
        parameters: {
            query?: {
                agent?: string;
                model?: string | "";
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConnectionList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_open_conversations_api_conversations_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_conversation_now_api_conversations__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_answer_question_api_conversations__number__answer_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["QuestionAnswerRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_decide_approval_api_conversations__number__decide_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["DecideRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_end_conversation_api_conversations__number__end_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_change_hold_api_conversations__number__hold_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["HoldChange"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_decide_held_call_api_conversations__number__hold_decision_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["HoldDecisionRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    conversations_say_words_api_conversations__number__say_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["SayRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConversationShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drift_drift_now_api_drifts__drift__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                drift: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DriftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drift_stop_drift_api_drifts__drift__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                drift: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DriftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    exports_export_now_api_exports__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ExportShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    exports_stop_export_api_exports__number__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ExportShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_read_file_api_file_get: {
        parameters: {
            query: {
                name: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_save_file_api_file_put: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["FileRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_check_text_api_file_check_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["CheckRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ProblemList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_format_text_api_file_format_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["CheckRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["TextShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_remove_workspace_file_api_file_remove_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["SeenFile"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MovedFile"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_rename_workspace_file_api_file_rename_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RenameRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MovedFile"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_restore_workspace_file_api_file_restore_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["FileQuery"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_file_stamp_api_file_stamp_get: {
        parameters: {
            query: {
                name: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["StampShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    finding_find_by_name_api_find_get: {
        parameters: {
            query?: {
                words?: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FoundThings"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    files_format_schema_api_formats__format__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                format: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FormatShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_runs_in_progress_api_going_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_decide_held_call_api_held__int_held__post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                held: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["HoldDecisionRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["HeldList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_look_now_api_looks__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["LookShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_stop_look_api_looks__number__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["LookShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    making_new_mock_api_mocks_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["NewMockRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MadeShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_list_models_api_models_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ModelList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_local_endpoints_api_models_local_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["LocalEndpoints"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_endpoint_names_api_models_names_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ModelRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["EndpointNames"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_write_model_api_models__model__put: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                model: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ModelRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ModelList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_look_at_api_models__model__look_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                model: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["LookShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    models_remove_model_api_models__model__remove_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                model: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ModelList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    making_paste_servers_api_pasted_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["PasteRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["PastedList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_read_plan_api_plan_read_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["PlanText"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["PlanReading"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_basis_of_rewording_api_plan_reword_get: {
        parameters: {
            query: {
                side: string;
                expected: string;
                chosen: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RewordBasis"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_start_plan_api_plan_start_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["PlanText"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_plan_files_api_plans_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["PlanFileList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    probing_probe_now_api_probes__number__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ProbeShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    recordings_show_recording_api_recording_get: {
        parameters: {
            query: {
                file: string;
                start?: number;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RecordingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    recordings_cut_recording_api_recording_cut_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["CutRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drafts_from_session_api_recording_draft_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["SessionDraftRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DraftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    recordings_edit_recording_api_recording_edit_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["EditRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RecordingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    recordings_merge_recordings_api_recording_merge_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["MergeRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_list_relays_api_relays_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RelayList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_relay_now_api_relays__relay__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                relay: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RelayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_drop_relay_api_relays__relay__drop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                relay: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RelayList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_keep_relay_api_relays__relay__keep_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                relay: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["KeepRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_stop_relay_api_relays__relay__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                relay: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RelayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    replays_read_one_replay_api_replays__int_replay__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                replay: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReplayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    replays_stop_replay_api_replays__int_replay__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                replay: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReplayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_newest_runs_api_runs_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_start_run_api_runs_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RunRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_estimate_run_now_api_runs_estimate_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RunRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["Estimate"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_run_failed_again_api_runs__int_run__again_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_arms_of_run_api_runs__int_run__arms_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ArmsReport"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_run_board_api_runs__int_run__board_get: {
        parameters: {
            query?: {
                base?: number | null;
            };
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BoardShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    exports_start_export_api_runs__int_run__exports_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ExportRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ExportShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_change_hold_api_runs__int_run__hold_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["HoldChange"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    replays_replays_of_one_run_api_runs__int_run__replays_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReplayList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    replays_start_replay_api_runs__int_run__replays_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ReplayRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReplayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    reports_run_report_api_runs__int_run__report_get: {
        parameters: {
            query?: {
                form?: "html" | "markdown";
                against?: number | null;
            };
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ReportText"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_resume_run_api_runs__int_run__resume_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_stop_run_now_api_runs__int_run__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_cell_trials_api_runs__int_run__trials_get: {
        parameters: {
            query: {
                suite: string;
                task: string;
                agent: string;
            };
            header?: never;
            path: {
                run: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["TrialList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    secrets_list_secrets_api_secrets_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SecretList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    secrets_agree_secret_api_secrets_agree_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["AgreeRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["AgreeRequest"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    secrets_keep_secret_api_secrets__secret__put: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                secret: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["SecretValue"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SecretList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    secrets_allow_variable_api_secrets__secret__allow_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                secret: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SecretList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_list_servers_api_servers_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ServerList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    beside_set_beside_api_servers__server__beside_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["BesideRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["BesideShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_earlier_calls_api_servers__server__calls_get: {
        parameters: {
            query: {
                tool: string;
            };
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["EarlierCalls"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_call_tool_api_servers__server__calls_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["CallRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["CallByHandShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_show_connection_api_servers__server__connection_get: {
        parameters: {
            query?: {
                mode?: string | null;
            };
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ConnectionShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drift_start_drift_api_servers__server__drift_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["DriftRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DriftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    making_mock_of_api_servers__server__mock_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["MockRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MadeShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_fill_in_prompt_api_servers__server__prompt_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["PromptRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ContentsShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_reach_server_api_servers__server__reach_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ReachRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ServerShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    calls_by_hand_read_resource_api_servers__server__read_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ReadRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ContentsShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    recordings_list_recordings_api_servers__server__recordings_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RecordingList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    relays_start_relay_api_servers__server__relay_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RelayRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RelayShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_show_tool_api_servers__server__tool_get: {
        parameters: {
            query: {
                mode?: string | null;
                tool: string;
            };
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ToolShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    making_add_tool_api_servers__server__tool_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["WordsRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_list_tools_api_servers__server__tools_get: {
        parameters: {
            query?: {
                mode?: string | null;
                search?: string;
                start?: number;
            };
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ToolPage"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    servers_show_wording_api_servers__server__wording_get: {
        parameters: {
            query?: {
                mode?: string | null;
            };
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["WordingShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    making_reword_tool_api_servers__server__wording_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                server: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["WordingRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["FileShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    shrinking_shrinking_now_api_shrinks__shrinking__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                shrinking: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ShrinkShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    shrinking_keep_as_task_api_shrinks__shrinking__draft_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                shrinking: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["DraftRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DraftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    shrinking_stop_shrinking_api_shrinks__shrinking__stop_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                shrinking: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ShrinkShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_read_suite_api_suite_read_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["SuiteText"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SuiteReading"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_rejudge_trials_api_suite_rejudge_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RejudgeRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RejudgedTrials"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_rescore_batch_api_suite_rescore_post: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["RescoreRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RescoreShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_count_stale_api_suite_stale_get: {
        parameters: {
            query: {
                suite: string;
                tasks?: string[];
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RescoreShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_known_tools_of_servers_api_suite_tools_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["KnownTools"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_suite_files_api_suites_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["SuiteFileList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    tasks_make_stand_in_api_suites__suite__stand_in_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                suite: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MadeStandInShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_read_one_trial_api_trials__int_trial__get: {
        parameters: {
            query?: {
                result?: number | null;
            };
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["TrialShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_trial_digest_api_trials__int_trial__digest_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DigestShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drafts_from_trial_api_trials__int_trial__draft_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["DraftRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["DraftShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_event_piece_api_trials__int_trial__events__int_place__get: {
        parameters: {
            query?: {
                field?: ("text" | "data" | "args" | "result" | "content") | null;
                start?: number;
            };
            header?: never;
            path: {
                trial: number;
                place: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["PieceShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    forks_forks_of_trial_api_trials__int_trial__forks_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ForkList"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    forks_start_forks_api_trials__int_trial__forks_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ForkRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["RunShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    drafts_where_to_keep_api_trials__int_trial__keep_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["KeepShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_mark_trial_api_trials__int_trial__mark_put: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["MarkRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MarkShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    plans_plan_of_mending_api_trials__int_trial__mend_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["MendRequest"];
            };
        };
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["MendDraft"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_what_model_was_shown_api_trials__int_trial__models__event__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
                event: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ModelRequestShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    replays_last_replay_api_trials__int_trial__replay_get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["LastReplay"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    shrinking_start_shrinking_api_trials__int_trial__shrink_post: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": components["schemas"]["ShrinkRequest"];
            };
        };
        responses: {
            /** @description As asked */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ShrinkShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    trials_raw_messages_api_trials__int_trial__wire__call__get: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                trial: number;
                call: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["WireShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    watch: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                kind: "runs" | "trials" | "calls" | "conversations" | "drifts" | "probes" | "looks" | "relays" | "exports" | "bringings" | "shrinks";
                number: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "text/event-stream": string;
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
    runs_workspace_on_disk_api_workspace_get: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description As asked */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["WorkspaceShape"];
                };
            };
            /** @description A token is asked for */
            401: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description Another site, another host, or a link that only looks */
            403: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description There is nothing of that name */
            404: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The address takes other methods: see `Allow` */
            405: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description It stands against what is there now */
            409: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is too large */
            413: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The body is not JSON */
            415: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The request is not as this document says, or what it names cannot be used */
            422: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A fault of Ferox's own, by its number */
            500: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description A server or an agent cannot be reached */
            502: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
            /** @description The results or a file cannot be read or written */
            503: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": components["schemas"]["ErrorMessage"];
                };
            };
        };
    };
}
