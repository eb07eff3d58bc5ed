// SPDX-License-Identifier: GPL-3.0-or-later
// A certificate for peers that speak TLS on loopback.
#pragma once

#include <openssl/evp.h>
#include <openssl/pem.h>
#include <openssl/x509v3.h>

#include <catch2/catch.hpp>
#include <cstdio>
#include <memory>
#include <string>
#include <utility>

#include "tests/support/temp_folder.h"

namespace ash::tests {

/// A certificate that is its own authority, and its key, as files.
struct Certificate {
  Certificate(const TempFolder& folder, const std::string& alternativeName)
      : certificateFile(folder.path("certificate.pem")), keyFile(folder.path("key.pem")) {
    const std::unique_ptr<EVP_PKEY, decltype(&EVP_PKEY_free)> key(EVP_EC_gen("P-256"), &EVP_PKEY_free);
    const std::unique_ptr<X509, decltype(&X509_free)> certificate(X509_new(), &X509_free);
    X509_set_version(certificate.get(), 2);
    ASN1_INTEGER_set(X509_get_serialNumber(certificate.get()), 1);
    X509_gmtime_adj(X509_getm_notBefore(certificate.get()), -3600);
    X509_gmtime_adj(X509_getm_notAfter(certificate.get()), 3600);
    X509_set_pubkey(certificate.get(), key.get());
    X509_NAME* name = X509_get_subject_name(certificate.get());
    X509_NAME_add_entry_by_txt(name, "CN", MBSTRING_ASC, reinterpret_cast<const unsigned char*>("bench"), -1, -1, 0);
    X509_set_issuer_name(certificate.get(), name);
    for (const auto& [kind, value] : {std::pair(NID_subject_alt_name, alternativeName.c_str()),
                                      std::pair(NID_basic_constraints, "critical,CA:TRUE")}) {
      X509_EXTENSION* extension = X509V3_EXT_conf_nid(nullptr, nullptr, kind, value);
      X509_add_ext(certificate.get(), extension, -1);
      X509_EXTENSION_free(extension);
    }
    REQUIRE(X509_sign(certificate.get(), key.get(), EVP_sha256()) > 0);
    FILE* file = fopen(certificateFile.c_str(), "w");
    PEM_write_X509(file, certificate.get());
    fclose(file);
    file = fopen(keyFile.c_str(), "w");
    PEM_write_PrivateKey(file, key.get(), nullptr, nullptr, 0, nullptr, nullptr);
    fclose(file);
  }
  std::string certificateFile, keyFile;
};

}  // namespace ash::tests
