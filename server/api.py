"""The API: every app's operations under one document."""

from ninja.security import SessionAuth

from server import problems
from server.accounts.api import TokenAuth
from server.accounts.api import router as accounts
from server.documenting import DocumentedAPI
from server.joining.api import router as joining
from server.ledger.api import router as ledger
from server.ledger.making_api import router as making
from server.operating.api import router as operating
from server.plates.api import router as plates
from server.readings.api import router as readings
from server.readings.relate_api import router as relations
from server.records.api import router as records
from server.reports.api import router as reports
from server.studies.api import router as studies
from server.studies.sharing_api import router as sharing

api = DocumentedAPI(
    title="Velvet Heron", version="1", auth=[TokenAuth(), SessionAuth()], docs_url=None, parser=problems.BodyParser()
)
api.add_router("", accounts)
api.add_router("", joining)
api.add_router("", studies)
api.add_router("", ledger)
api.add_router("", making)
api.add_router("", readings)
api.add_router("", relations)
api.add_router("", plates)
api.add_router("", reports)
api.add_router("", records)
api.add_router("", sharing)
api.add_router("", operating)
problems.register(api)
