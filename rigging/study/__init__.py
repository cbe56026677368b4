"""Everything that is solved and judged of a plan, once, when it is first asked for."""
