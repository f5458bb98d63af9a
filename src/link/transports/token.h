#pragma once
// The token that a machine on this computer asks for, where a program of the same owner finds it.
#include <QString>

namespace ypsi::link {

/// "…/ypsilograph-7125.token" in the folder for files of this session.
QString token_path(quint16 port);
/// Of the machine that listens at `host` and `port`; empty where that is not this computer or none was written.
QString token_of(const QString& host, quint16 port);

}  // namespace ypsi::link
