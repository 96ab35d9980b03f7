"""The demo study, loaded through the services that everybody uses."""
