import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const FEATURES = ["shelf", "contact", "bench", "recipes", "print", "tracing", "edition"];

/** A folder that may not import from others, wherever in it a file lies. */
function apart(folder, others, message) {
    const group = others.flatMap((other) => [`**/../${other}/**`]);
    return {
        files: [`src/${folder}/**/*.{ts,tsx}`],
        rules: { "no-restricted-imports": ["error", { patterns: [{ group, message }] }] },
    };
}

export default tseslint.config(
    { ignores: ["src/api/schema.d.ts"] },
    js.configs.recommended,
    ...tseslint.configs.recommended,
    reactHooks.configs.flat["recommended-latest"],
    // The rooms of the page: api, shared, live, sheet, then features, then the app that joins them.
    apart(
        "api",
        ["shared", "live", "sheet", "app", ...FEATURES],
        "What asks the server knows no page.",
    ),
    apart("shared", ["live", "sheet", "app", ...FEATURES], "A shared part knows no feature."),
    apart("live", ["sheet", "app", ...FEATURES], "Pictures know neither sheets nor features."),
    apart("sheet", ["live", "app", ...FEATURES], "The sheet being edited knows no feature."),
    ...FEATURES.map((feature) =>
        apart(
            feature,
            ["app", ...FEATURES.filter((other) => other !== feature)],
            "A feature imports no other; what two of them use belongs to live, sheet or shared.",
        ),
    ),
);
