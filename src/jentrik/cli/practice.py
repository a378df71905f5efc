"""`jentrik practice`: items with their answers, by a seed."""

import argparse

from jentrik.cli.printing import print_json
from jentrik.exchange.practice_document import items_document


def practice(options: argparse.Namespace) -> int:
    """Print practice items with their answers."""
    answer = items_document(options.seed, options.count)
    if options.json:
        print_json(answer)
        return 0
    for number, one in enumerate(answer, 1):
        print(f"{number}. {one['question']}")
        for place, choice in enumerate(one["choices"] or (), 1):
            print(f"   {place}  {choice}")
    print("\nAnswers")
    for number, one in enumerate(answer, 1):
        print(f"{number}. {one['answer']}. {one['why']} [{one['source']}]")
    return 0
