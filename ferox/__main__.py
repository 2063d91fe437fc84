"""`python -m ferox` is the command line."""

from ferox.cli.main import main

if __name__ == "__main__":
    main(prog_name="ferox")
