from server.reader.standby import main

main()
