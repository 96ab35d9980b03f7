#!/usr/bin/env bash
# Write the API's document and the interface's types and choices anew, and the words on screen.
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"
# As a server behind TLS says it, whatever the surroundings are set to.
HERON_SECRET_KEY=unused HERON_SECURE=1 HERON_DEMO=shared "$PYTHON" -m server.manage export_openapi_schema --api server.api.api --indent 1 --sorted --output web/openapi.json
(cd web && npx --no-install openapi-typescript openapi.json -o src/api/schema.gen.ts >/dev/null)
"$PYTHON" scripts/choices.py > web/src/api/choices.gen.ts
node scripts/screen_words.cjs
