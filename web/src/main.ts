/** The pages begin here: fonts, styles, questions to the server, and the screens. */
import "@fontsource/atkinson-hyperlegible-next/latin-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-700.css";
import "@fontsource/atkinson-hyperlegible-next/latin-ext-400.css";
import "@fontsource/atkinson-hyperlegible-next/latin-ext-700.css";
import "@fontsource/zilla-slab/latin-700.css";
import "@fontsource/zilla-slab/latin-ext-700.css";
import "element-plus/theme-chalk/base.css";
import "element-plus/theme-chalk/el-input.css";
import "element-plus/theme-chalk/el-select.css";
import "element-plus/theme-chalk/el-option.css";
import "element-plus/theme-chalk/el-popper.css";
import "element-plus/theme-chalk/el-scrollbar.css";
import "element-plus/theme-chalk/el-radio-group.css";
import "element-plus/theme-chalk/el-radio-button.css";
import "element-plus/theme-chalk/el-date-picker.css";
import "element-plus/theme-chalk/el-message.css";
import "element-plus/theme-chalk/el-dialog.css";
import "element-plus/theme-chalk/el-overlay.css";
import "./style/tokens.css";
import "./style/base.css";
import { VueQueryPlugin } from "@tanstack/vue-query";
import { createPinia } from "pinia";
import { createApp } from "vue";
import App from "./App.vue";
import { arrive, queryClient } from "./api/queries";
import { says } from "./parts/says";
import { router } from "./router";

router.beforeEach((to) => arrive(String(to.name ?? "")));

createApp(App)
  .use(createPinia())
  .use(router)
  .use(VueQueryPlugin, { queryClient })
  .directive("says", says)
  .mount("#app");
