from kesselton.cli import program

program()
