import { configure } from "@testing-library/react";

// A machine that does something else besides is slow, and not broken.
configure({ asyncUtilTimeout: 60_000 });
