"""Random requests from the OpenAPI description: never a 5xx. Bounded by the number of examples."""

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings
from schemathesis.checks import not_a_server_error
from sqlalchemy import Engine, create_engine

from kumpan.main import create_app
from support import Clock

# One application for the description; the database is put under it per test.
app = create_app(create_engine("mariadb+pymysql://nobody@localhost/none"), clock=Clock())
schema = schemathesis.openapi.from_asgi("/api/openapi.json", app)


@pytest.fixture
def behind(engine: Engine) -> None:
    app.state.sessions.configure(bind=engine)


@schema.exclude(path="/api/health").parametrize()
@settings(
    max_examples=40,
    derandomize=True,
    deadline=None,
    suppress_health_check=list(HealthCheck),
    phases=[Phase.explicit, Phase.generate],
)
def test_no_request_makes_a_server_error(behind: None, case: schemathesis.Case) -> None:
    case.call_and_validate(checks=[not_a_server_error])
