from kesselton.cli import main

raise SystemExit(main())
