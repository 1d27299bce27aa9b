"""What the launcher script hands over to, once everything is installed and built.

What only one command needs is imported there, so that a start is not slower for it.
"""

from __future__ import annotations

import argparse
from importlib import import_module

#: Command → the module that does it, the function there, and which words of the command line it takes.
_DOES: dict[str, tuple[str, str, tuple[str, ...]]] = {
    "start": ("own_shop", "run_start", ()),
    "code": ("own_shop", "run_code", ("login",)),
    "backup": ("backup", "run_backup", ("file",)),
    "restore": ("backup", "run_restore", ("file",)),
    "upgrade": ("upgrade", "run_upgrade", ()),
    "doctor": ("doctor", "run_doctor", ()),
    "dev": ("demo", "run_dev", ()),
    "serve": ("production", "serve", ()),
    "verify": ("verify", "run_verify", ()),
    "standings": ("verify", "run_standings", ()),
    "words": ("words", "write_words", ("into",)),
    "credential": ("credential", "run_credential", ("file", "key")),
    "erase": ("erase", "run_erase", ("login", "yes")),
    "stats": ("stats", "print_stats", ()),
    "cluster": ("bench.cluster", "run_cluster", ()),
    "shots": ("shots", "shoot", ("into", "names")),
}


def _do(args: argparse.Namespace) -> int | None:
    """Do one command; gives what the program ends with."""
    match args.command:
        case "demo":
            from incudo.launch.demo import run_demo

            run_demo(fresh=args.fresh)
            return 0
        case "reckon":
            from incudo.launch.reckon import main as reckon_main

            return reckon_main(args.name, listed=args.list, as_json=args.json)
        case "bench":
            from incudo.launch.bench.run import run_bench

            return run_bench(**{k: v for k, v in vars(args).items() if k != "command"})
    module, function, words = _DOES[args.command]
    found: int | None = getattr(import_module(f"incudo.launch.{module}"), function)(*(getattr(args, w) for w in words))
    return found


def main() -> None:
    """Read the command line and do it."""
    parser = argparse.ArgumentParser(prog="incudo")
    commands = parser.add_subparsers(dest="command", required=True)
    demo = commands.add_parser("demo", help="the Skerry Sound demo shop on this machine")
    demo.add_argument("--fresh", action="store_true", help="forget what was entered and start over")
    commands.add_parser("start", help="a shop of your own on this machine, empty at first")
    code = commands.add_parser("code", help="a new code for somebody who has forgotten their password")
    code.add_argument("login", help="the name they sign in with")
    for name, what in (
        ("backup", "write the shop of this machine into a file, running or not"),
        ("restore", "fill the empty shop of this machine from such a file"),
    ):
        commands.add_parser(name, help=what).add_argument("file")
    commands.add_parser("upgrade", help="bring the shop of this machine to this program, after a backup of it")
    commands.add_parser("doctor", help="what of the shop of this machine is well, what is not, and what to do")
    commands.add_parser("dev", help="server and front end that follow every saved file, with demo data")
    commands.add_parser("serve", help="production: configuration from the environment")
    commands.add_parser("verify", help="check the register of sign-offs, withdrawals, incidents and stops")
    erase = commands.add_parser("erase", help="delete what is kept of a former student, except what must stay")
    erase.add_argument("login", help="the name they signed in with")
    erase.add_argument("--yes", action="store_true", help="do it; without it only what it comes to is said")
    credential = commands.add_parser("credential", help="whether the signatures of a file of credentials fit")
    credential.add_argument("file")
    credential.add_argument("--key", default="", help="the did:key of the shop that should have signed")
    reckon = commands.add_parser("reckon", help="a calculation, its inputs as JSON on standard input")
    reckon.add_argument("name", nargs="?", default="")
    reckon.add_argument("--list", action="store_true", help="every calculation with its inputs and bounds")
    reckon.add_argument("--json", action="store_true", help="the answer as JSON")
    commands.add_parser("stats", help="lines of code and of tests")
    shots = commands.add_parser("shots", help="make docs/screenshots anew from the demo data")
    shots.add_argument("--into", default="", help="another folder")
    shots.add_argument("names", nargs="*", help="only these pictures")
    words = commands.add_parser("words", help="every text that a person can meet, as a template to translate from")
    words.add_argument("--into", default="", help="this file instead of the screen")
    commands.add_parser("standings", help="compare every kept standing with the record, and put wrong ones right")
    commands.add_parser("cluster", help="three database nodes and two servers, written to while parts of them fail")
    bench = commands.add_parser("bench", help="server time of every page with the records of a college")
    bench.add_argument("--fresh", action="store_true", help="make the college anew")
    bench.add_argument("--only", default="", help="only operations with this in their name")
    bench.add_argument("--into", default="", help="write the table to this file too")
    bench.add_argument("--statements", type=int, default=0, help="so many of each operation's slowest statements")
    bench.add_argument("--load", type=float, default=0, metavar="SECONDS", help="people at work at once instead")
    bench.add_argument("--pages", type=int, default=200, help="pages that are open meanwhile")
    args = parser.parse_args()
    raise SystemExit(_do(args))


if __name__ == "__main__":
    main()
