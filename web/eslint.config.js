import vue from "eslint-plugin-vue";
import prettier from "eslint-config-prettier";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.ts"] },
  ...ts.configs.recommended,
  ...vue.configs["flat/recommended"],
  prettier,
  { files: ["**/*.vue"], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      "vue/multi-word-component-names": "off",
      eqeqeq: "error",
      "prefer-const": "error",
      "vue/require-default-prop": "off",
      "vue/no-unused-refs": "error",
      "vue/no-useless-template-attributes": "error",
      "vue/no-template-target-blank": "error",
      "vue/no-unused-properties": "error",
    },
  },
);
