import "@fontsource-variable/commissioner";
import "@fontsource/source-code-pro/400.css";
import { mount } from "svelte";
import App from "./App.svelte";
import "./app.css";

const target = document.getElementById("app");
if (target) mount(App, { target });
