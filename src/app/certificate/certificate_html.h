#pragma once
#include "app/certificate/certificate_page.h"

namespace ypsi::app {

/// The same certificate as one HTML file that needs nothing else: table, statement and charts as SVG.
QString certificate_html(const CertificatePaper& paper);

}  // namespace ypsi::app
