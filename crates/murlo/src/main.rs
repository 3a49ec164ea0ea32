//! The `murlo` command: serves the application, and answers single questions without it.

mod demo;
mod serve;

use anyhow::{Context, Result, bail};
use clap::{Parser, Subcommand};
use murlo_core::calc;
use murlo_core::household::Household;
use murlo_store::Store;
use std::io::{IsTerminal, Read, Write};
use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;

/// Descaling and needle clearing for drip and pod coffee brewers.
#[derive(Parser)]
#[command(version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve a household.
    Serve {
        /// The database file; made when it does not exist.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
        /// Address to listen on; any but this machine's own needs a passcode.
        #[arg(long, default_value = "127.0.0.1:7676")]
        listen: SocketAddr,
    },
    /// Serve made-up homes from a database that is thrown away.
    Demo {
        /// Address to listen on; only this machine's own.
        #[arg(long, default_value = "127.0.0.1:7676")]
        listen: SocketAddr,
        /// How many further brewers with years of cleans to make up.
        #[arg(long, default_value_t = 0)]
        crowd: u32,
        /// How many years of cleans those have.
        #[arg(long, default_value_t = 5, value_parser = clap::value_parser!(u32).range(1..=30))]
        years: u32,
    },
    /// Answer one question: a JSON object or list on standard input.
    #[command(disable_help_flag = true)]
    Calc {
        /// The question's name.
        topic: Option<String>,
        /// List the questions with an example each.
        #[arg(long)]
        list: bool,
        /// Describe the question's fields.
        #[arg(long, short)]
        help: bool,
    },
    /// Write a whole household as JSON to standard output.
    Export {
        /// The database file.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
    },
    /// Take a whole household in from JSON, all or nothing.
    Import {
        /// The file to read.
        file: PathBuf,
        /// The database file.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
        /// Replace what is there, after a backup beside it.
        #[arg(long)]
        replace: bool,
    },
    /// Copy a database that may be in use.
    Backup {
        /// Where to.
        target: PathBuf,
        /// The database file.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
    },
    /// Check that a database is sound and every clean in it can be replayed.
    Check {
        /// The database file.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
    },
    /// Set the passcode, read from standard input.
    Passcode {
        /// The database file.
        #[arg(long, default_value = "murlo.db")]
        database: PathBuf,
    },
    /// Print the OpenAPI document.
    Openapi,
}

fn main() -> ExitCode {
    tracing_subscriber::fmt()
        .with_writer(std::io::stderr)
        .with_ansi(std::io::stderr().is_terminal())
        .with_env_filter(
            tracing_subscriber::EnvFilter::try_from_default_env().unwrap_or_else(|_| "warn".into()),
        )
        .init();
    match run(Arguments::parse().command) {
        Ok(code) => code,
        Err(error) => {
            eprintln!("murlo: {error:#}");
            ExitCode::FAILURE
        }
    }
}

fn run(command: Command) -> Result<ExitCode> {
    match command {
        Command::Serve { database, listen } => serve::household(&database, listen)?,
        Command::Demo {
            listen,
            crowd,
            years,
        } => serve::demo(listen, crowd, years)?,
        Command::Calc { topic, list, help } => return calc(topic, list, help),
        Command::Export { database } => {
            let household = existing(&database)?.export()?;
            writeln!(
                std::io::stdout(),
                "{}",
                serde_json::to_string_pretty(&household)?
            )?;
        }
        Command::Import {
            file,
            database,
            replace,
        } => {
            let text = std::fs::read_to_string(&file)
                .with_context(|| format!("cannot read {}", file.display()))?;
            match Household::read(&text) {
                Ok(household) => Store::open(&database)?.import(&household, replace)?,
                Err(problems) => {
                    for problem in problems.0 {
                        eprintln!("{problem}");
                    }
                    bail!("nothing was imported");
                }
            }
        }
        Command::Backup { target, database } => {
            if target.exists() {
                bail!("{} exists already: give a new name", target.display());
            }
            existing(&database)?.backup(&target)?;
        }
        Command::Check { database } => {
            let store = existing(&database)?;
            let sound = store.check()?;
            if sound != "ok" {
                bail!("{} is damaged: {sound}", database.display());
            }
            store
                .export()?
                .check()
                .context("a stored fact no longer fits")?;
            println!("sound");
        }
        Command::Passcode { database } => {
            let mut passcode = String::new();
            std::io::stdin().read_line(&mut passcode)?;
            let hash = murlo_server::hash_passcode(passcode.trim()).map_err(anyhow::Error::msg)?;
            Store::open(&database)?.set_passcode(&hash)?;
            println!("passcode set; every device signs in again");
        }
        Command::Openapi => println!("{}", murlo_server::openapi()),
    }
    Ok(ExitCode::SUCCESS)
}

/// Opens a database for a command that must not make one by a slip of the name.
fn existing(database: &std::path::Path) -> Result<Store> {
    if !database.exists() {
        bail!("{} does not exist", database.display());
    }
    Ok(Store::open(database)?)
}

fn calc(topic: Option<String>, list: bool, help: bool) -> Result<ExitCode> {
    let mut out = std::io::stdout().lock();
    let Some(name) = topic.filter(|_| !list) else {
        for topic in calc::TOPICS {
            writeln!(
                out,
                "{}\n    {}\n    {}",
                topic.name, topic.about, topic.example
            )?;
        }
        return Ok(ExitCode::SUCCESS);
    };
    let topic = calc::topic(&name).map_err(|problem| anyhow::anyhow!(problem.message))?;
    if help {
        writeln!(out, "{}: {}", topic.name, topic.about)?;
        for field in topic.fields {
            let need = if field.required { "" } else { " (optional)" };
            writeln!(
                out,
                "    {}: {}{need}",
                field.name,
                calc::describe(&field.kind)
            )?;
        }
        return Ok(ExitCode::SUCCESS);
    }
    let mut text = String::new();
    std::io::stdin().read_to_string(&mut text)?;
    let (answer, good) = topic.answer_text(&text);
    writeln!(out, "{answer}")?;
    Ok(if good {
        ExitCode::SUCCESS
    } else {
        ExitCode::FAILURE
    })
}
