"""What whoever runs a server does in the application: people, how much they may keep, invitations, letters."""
