"""Change the core one token at a time and see whether the tests notice: `make mutants`.

mutmut does the work.  Its changes of texts are left out, because a finding's words are looked at
by eye, and so are those that only drop an argument or put None for a value, because mypy sees
them before any test.  What mutmut cannot reach, the constants of a module, have tests of their own.
"""

import sys
from typing import Any, cast

from mutmut.__main__ import cli
from mutmut.mutation import mutators

LEFT_OUT = {
    "operator_string",
    "operator_arg_removal",
    "operator_assignment",
    "operator_dict_arguments",
    "operator_symmetric_string_methods_swap",
    "operator_unsymmetrical_string_methods_swap",
}


def main() -> None:
    """Run mutmut with the kinds of change that a formula or a rule can get wrong."""
    kept = [pair for pair in mutators.mutation_operators if pair[1].__name__ not in LEFT_OUT]
    cast(list[Any], mutators.mutation_operators)[:] = kept
    cli(sys.argv[1:] or ["run"])


if __name__ == "__main__":
    main()
