from vellumcut.cli import main

main()
