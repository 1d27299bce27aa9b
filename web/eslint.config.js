import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

/** What comes from the component library; what is drawn is ours and says which. */
const NATIVE = /^(input|select|textarea|dialog|details|datalist)$/.source;

export default ts.config(
  { ignores: ["src/api/schema.d.ts"] },
  ...ts.configs.strictTypeChecked,
  hooks.configs.flat["recommended-latest"],
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "no-restricted-syntax": [
        "error",
        { selector: `JSXOpeningElement[name.name=/${NATIVE}/]`, message: "Fields, choices, dialogs and folds come from Ant Design." },
        { selector: "JSXAttribute[name.name='style'] > JSXExpressionContainer > ObjectExpression > Property[value.type='Literal']", message: "What does not change belongs in a style sheet." },
      ],
      "no-restricted-properties": [
        "error",
        ...["atan", "atan2", "tan", "sqrt", "sin", "cos"].map((property) => ({
          object: "Math",
          property,
          message: "Rules of the job live in the core; the page only shows them.",
        })),
      ],
    },
  },
);
